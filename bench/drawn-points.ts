/** Frame times of the stage while its camera turns: many points with sizes and colours of their own against the same points drawn bare. */
import type { PieceDocument } from "../src/core/document/schema";
import { inStudio, turning } from "./in-browser";
import type { Pair } from "./measure";
import { type Nodes, piece } from "./pieces";

function pointsOf(count: number, dressed: boolean): PieceDocument {
  const nodes: Nodes = {
    grid: ["grid-sites", { across: 1000, deep: count / 1000, spacing: [0.01, 0.01, 0.01] }],
    chance: ["random"],
    wide: ["random", { low: 0.004, high: 0.01, seed: 2 }],
    size: ["line-thickness"],
    hue: ["gradient"],
    tint: ["tint"],
    stage: ["stage"],
  };
  return piece(nodes, [
    "grid.sites>size.shape",
    "wide.value>size.thickness",
    "chance.value>hue.value",
    "hue.color>tint.color",
    "size.shape>tint.shape",
    `${dressed ? "tint.shape" : "grid.sites"}>stage.shape`,
  ]);
}

export async function drawnPoints(count: number): Promise<Pair> {
  const [other, ours] = await inStudio([pointsOf(count, false), pointsOf(count, true)], turning);
  return { ours, other };
}
