/** Frame times of the stage while its camera turns: with what a Finish does live against without, and with materials whose parts are fields. */
import type { PieceDocument } from "../src/core/document/schema";
import { inStudio, turning } from "./in-browser";
import type { Pair } from "./measure";
import { type Nodes, piece } from "./pieces";

const clones = (across: number): Nodes => ({
  grid: ["grid-sites", { across, deep: across, spacing: [0.1, 0.1, 0.1] }],
  box: ["box", { size: [0.06, 0.06, 0.06] }],
  clones: ["clone-onto-sites"],
  stage: ["stage"],
});
const CLONED = ["grid.sites>clones.sites", "box.shape>clones.shapes"];

/** Glow, colour, edges and grain. */
const finished = (isFinished: boolean): PieceDocument =>
  piece(
    {
      ...clones(30),
      look: ["finish", { glow: 0.4, vignette: 0.3, contrast: 0.1, grain: 0.1, samples: 1 }],
    },
    [...CLONED, "clones.clones>stage.shape", ...(isFinished ? ["look.finish>stage.finish"] : [])],
  );

export async function finishedFrames(): Promise<Pair> {
  const [other, ours] = await inStudio([finished(false), finished(true)], turning);
  return { ours, other };
}

/** Colour, roughness and emission. @param count of clones, a square */
const made = (count: number, byFields: boolean): PieceDocument =>
  piece(
    {
      ...clones(Math.round(Math.sqrt(count))),
      chance: ["random"],
      hue: ["gradient"],
      made: ["material", { kind: "as set here", roughness: 0.4, emission: 0.2 }],
    },
    [
      ...CLONED,
      "clones.clones>made.shape",
      "made.shape>stage.shape",
      ...(byFields
        ? [
            "chance.value>hue.value",
            "hue.color>made.color",
            "chance.value>made.roughness",
            "chance.value>made.emission",
          ]
        : []),
    ],
  );

export async function fieldMaterials(count: number): Promise<Pair> {
  const [other, ours] = await inStudio([made(count, false), made(count, true)], turning);
  return { ours, other };
}
