/**
 * Small scenes against pictures of them that are kept, by a measure of what is seen (Y. Kotsarenko, F. Ramos, "Measuring perceived color difference
 * using YIQ", 2010, as Playwright has it). Each was looked at when it was kept. After a change that is meant: `npx playwright test pictures.spec
 * --update-snapshots`, and look at them.
 */
import type { PieceDocument } from "@/core/document/schema";
import type { Setting } from "@/core/nodes/ports";
import { open, piece, takePicture } from "./helpers";
import { expect, test } from "./own-studio";

type Nodes = Record<string, readonly [type: string, set?: Record<string, Setting>]>;

/** What is seen by one camera. @param from the output that the Stage shows */
function scene(
  from: string,
  nodes: Nodes,
  links: readonly string[],
  stage: Record<string, Setting> = {},
): PieceDocument {
  const all: Nodes = {
    ...nodes,
    eye: ["camera", { place: [0, 2, 6], target: [0, 0.4, 0], lens: 45 }],
    stage: ["stage", stage],
  };
  return piece(
    "Scene",
    Object.entries(all).map(([id, [type, set]], i) => [
      id,
      type,
      (i % 4) * 320,
      Math.floor(i / 4) * 420,
      set,
    ]),
    [...links, `${from}>stage.shape`, "eye.camera>stage.camera"],
  );
}

/** Balls in a row, each of its material. */
function balls(
  kinds: readonly Record<string, Setting>[],
  stage: Record<string, Setting> = {},
): PieceDocument {
  const nodes: Nodes = {
    ball: ["sphere", { radius: 0.5, around: 48, rings: 24 }],
    ...Object.fromEntries(
      kinds.flatMap((set, i): [string, Nodes[string]][] => [
        [`made${i}`, ["material", set]],
        [`there${i}`, ["transform", { move: [(i - (kinds.length - 1) / 2) * 1.15, 0.5, 0] }]],
      ]),
    ),
    all: ["merge"],
  };
  return scene(
    "all.shape",
    nodes,
    kinds.flatMap((_, i) => [
      `ball.shape>made${i}.shape`,
      `made${i}.shape>there${i}.shape`,
      `there${i}.shape>all.shapes`,
    ]),
    stage,
  );
}

/** Boxes around a circle. */
const RING: Nodes = {
  ring: ["ring-sites", { count: 9, radius: 1.6 }],
  box: ["box", { size: [0.5, 1, 0.5] }],
  clones: ["clone-onto-sites"],
};
const RINGED = ["ring.sites>clones.sites", "box.shape>clones.shapes"];

const own = (set: Record<string, Setting>): Record<string, Setting> => ({ kind: "as set here", ...set });

/** A red lamp at the left, and a blue spot from above at the right. */
const LAMPS: Nodes = {
  red: ["light", { kind: "lamp", place: [-1.2, 0.9, 0.6], color: "#ff5a3c", power: 2.5, shadow: false }],
  blue: [
    "light",
    { kind: "spot", place: [2, 2, 0], target: [0, 0.7, 0], color: "#4a7dff", power: 4, shadow: false },
  ],
};
const LAMPS_LIT = ["red.light>stage.lights", "blue.light>stage.lights"];

const SCENES: Readonly<Record<string, { document: PieceDocument; looks?: RegExp }>> = {
  "ready materials": {
    document: balls([
      { kind: "brass" },
      { kind: "wet leaf" },
      { kind: "frosted glass" },
      { kind: "beetle shell" },
    ]),
  },
  "bumps and brushed metal": {
    document: balls([
      own({ color: "#8a5b2e", roughness: 0.8, bump: 0.03, bumpSize: 0.15 }),
      own({ color: "#c9cdd0", roughness: 0.25, metalness: 1, anisotropy: 0.85 }),
      own({ color: "#ffffff", roughness: 0.05, refraction: 2.4 }),
    ]),
  },
  "nothing but light": {
    document: balls([
      own({ color: "#a04818", shading: "light alone" }),
      { kind: "moss" },
      own({ shading: "in steps" }),
    ]),
  },
  "clear clones": {
    document: scene(
      "tint.shape",
      { ...RING, tint: ["tint", { color: "#c4502e80" }] },
      [...RINGED, "clones.clones>tint.shape"],
      { background: "#e8e0cf" },
    ),
  },
  "dashes and dots": {
    document: scene(
      "all.shape",
      {
        round: ["arc", { radius: 1.8 }],
        cut: ["dashes", { dash: 0.4, gap: 0.25 }],
        thick: ["line-thickness", { thickness: 0.12 }],
        row: ["row-sites", { count: 6, from: [-1, 0.6, 0], to: [1, 0.6, 0] }],
        dots: ["line-thickness", { thickness: 0.22 }],
        all: ["merge"],
      },
      [
        "round.shape>cut.shape",
        "cut.shape>thick.shape",
        "thick.shape>all.shapes",
        "row.sites>dots.shape",
        "dots.shape>all.shapes",
      ],
    ),
  },
  "dots that are balls": {
    document: scene(
      "balls.shape",
      {
        grid: ["grid-sites", { across: 7, deep: 5, spacing: [0.4, 1, 0.4] }],
        number: ["index"],
        hue: ["gradient", { low: 0, high: 34 }],
        paint: ["tint"],
        // Flat at one side, and rounder from row to row.
        round: ["remap", { fromLow: -1, fromHigh: 1 }],
        place: ["position"],
        balls: ["line-thickness", { thickness: 0.36 }],
        ...LAMPS,
      },
      [
        "number.index>hue.value",
        ...LAMPS_LIT,
        "grid.sites>paint.shape",
        "hue.color>paint.color",
        "paint.shape>balls.shape",
        "place.x>round.value",
        "round.value>balls.roundness",
      ],
      { setup: "soft table", background: "#5a6460" },
    ),
  },
  outlines: {
    document: scene("clones.clones", RING, RINGED, { outline: 1.5, ink: "#101714", background: "#e8e0cf" }),
  },
  "lines of their own": {
    document: scene(
      "line.shape",
      {
        ...RING,
        number: ["index"],
        hue: ["gradient", { low: 0, high: 8 }],
        wide: ["arithmetic", { do: "multiply", b: 0.5 }],
        line: ["line-around"],
      },
      [
        ...RINGED,
        "clones.clones>line.shape",
        "number.index>wide.a",
        "wide.value>line.width",
        "number.index>hue.value",
        "hue.color>line.color",
      ],
      { outline: 2, background: "#e8e0cf" },
    ),
  },
  "smoke around a block": {
    document: scene(
      "all.shape",
      {
        ball: ["sphere", { radius: 0.4 }],
        block: ["box", { size: [0.8, 0.3, 0.8] }],
        there: ["transform", { move: [0.2, 1, 0] }],
        smoke: ["smoke", { style: "billowing", voxel: 0.16, runUp: 22, most: 32 }],
        made: ["material", { kind: "brass" }],
        all: ["merge"],
      },
      [
        "ball.shape>smoke.sources",
        "block.shape>there.shape",
        "there.shape>smoke.obstacles",
        "there.shape>made.shape",
        "smoke.shape>all.shapes",
        "made.shape>all.shapes",
      ],
      { background: "#2a3a3a" },
    ),
  },
  "smoke between two lamps": {
    document: scene(
      "smoke.shape",
      {
        ball: ["sphere", { radius: 0.45 }],
        there: ["transform", { move: [0, 0.5, 0] }],
        smoke: ["smoke", { style: "calm", walls: "floor", voxel: 0.16, runUp: 16, most: 32 }],
        ...LAMPS,
      },
      ["ball.shape>there.shape", "there.shape>smoke.sources", ...LAMPS_LIT],
      { setup: "none", background: "#0c1214", ground: true, floor: "mirror" },
    ),
  },
  "a wide spot": {
    document: scene(
      "clones.clones",
      { ...RING, spot: ["light", { kind: "spot", place: [3, 4, 2], size: 1.2, power: 5, warmth: 3200 }] },
      [...RINGED, "spot.light>stage.lights"],
      { setup: "none", background: "#5a6460" },
    ),
    looks: /^64/,
  },
  "a wet floor at dusk": {
    document: scene("clones.clones", RING, RINGED, { setup: "dusk", floor: "wet" }),
  },
  "a curved sheet in fog": {
    document: scene(
      "clones.clones",
      { ...RING, look: ["finish", { fog: 0.08, fogTop: 2 }] },
      [...RINGED, "look.finish>stage.finish"],
      { floor: "curved sheet", background: "#9fb0a0" },
    ),
  },
  "glow, grade and dark corners": {
    document: scene(
      "lit.shape",
      {
        ...RING,
        lit: ["material", { kind: "glow" }],
        look: ["finish", { glow: 0.2, glowFrom: 0.9, contrast: 0.2, saturation: -0.3, vignette: 0.3 }],
      },
      [...RINGED, "clones.clones>lit.shape", "look.finish>stage.finish"],
    ),
  },
};

for (const [name, { document, looks }] of Object.entries(SCENES))
  test(`a scene looks as it did: ${name}`, async ({ page }) => {
    test.slow();
    await open(page, document);
    const picture = await takePicture(page, 320, /8 bits/, looks);
    // Another processor rounds otherwise: single pixels at edges may differ.
    expect(picture).toMatchSnapshot(`${name.replaceAll(/[ ,]+/g, "-")}.png`, {
      threshold: 0.1,
      maxDiffPixelRatio: 0.01,
    });
  });
