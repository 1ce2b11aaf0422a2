/** What a new piece may begin with. Each already moves. */
import { blankDocument, type Link, type PieceDocument } from "@/core/document/schema";
import type { Setting } from "@/core/nodes/ports";

export interface Starter {
  readonly id: string;
  readonly title: string;
  readonly about: string;
  readonly make: () => PieceDocument;
}

type Placed = readonly [
  id: string,
  type: string,
  at: readonly [number, number],
  set?: Readonly<Record<string, Setting>>,
];

const build = (
  name: string,
  nodes: readonly Placed[],
  links: readonly (readonly [string, string])[],
): PieceDocument => {
  const blank = blankDocument(name);
  return {
    ...blank,
    graph: {
      nodes: nodes.map(([id, type, at, set]) => ({ id, type, at: [at[0], at[1]], set: { ...set } })),
      links: links.map(([from, to]): Link => ({ from, to })),
    },
  };
};

const STAGE = (x: number): Placed => ["stage", "stage", [x, 0]];

export const STARTERS: readonly Starter[] = [
  {
    id: "ring",
    title: "Ring of something",
    about: "copies around a circle",
    make: () =>
      build(
        "Ring of something",
        [
          ["ring", "ring-sites", [0, 0]],
          ["shape", "box", [0, 260], { size: [0.7, 0.5, 0.5] }],
          ["clones", "clone-onto-sites", [270, 40]],
          ["clock", "clock", [270, 300]],
          ["degrees", "arithmetic", [510, 300], { do: "multiply", b: 360 }],
          ["spin", "angles", [750, 300]],
          ["turn", "rotate", [540, 20]],
          STAGE(820),
        ],
        [
          ["ring.sites", "clones.sites"],
          ["shape.shape", "clones.shapes"],
          ["clones.clones", "turn.shape"],
          ["clock.along", "degrees.a"],
          ["degrees.value", "spin.x"],
          ["spin.rotation", "turn.turn"],
          ["turn.shape", "stage.shape"],
        ],
      ),
  },
  {
    id: "wall",
    title: "Wall that ripples",
    about: "grid, noise, loop",
    make: () =>
      build(
        "Wall that ripples",
        [
          ["wall", "grid-sites", [0, 0], { across: 24, deep: 24, spacing: [0.5, 0.5, 0.5] }],
          ["block", "box", [0, 300], { size: [0.42, 0.42, 0.42] }],
          ["clones", "clone-onto-sites", [270, 40]],
          ["hills", "noise", [270, 300], { size: 3, speed: 0.5, loop: true }],
          ["rise", "move", [540, 20], { by: [0, 1, 0] }],
          ["colors", "gradient", [540, 300], { low: -0.6, high: 0.6 }],
          ["paint", "tint", [810, 20]],
          STAGE(1080),
        ],
        [
          ["wall.sites", "clones.sites"],
          ["block.shape", "clones.shapes"],
          ["clones.clones", "rise.shape"],
          ["hills.value", "rise.amount"],
          ["hills.value", "colors.value"],
          ["rise.shape", "paint.shape"],
          ["colors.color", "paint.color"],
          ["paint.shape", "stage.shape"],
        ],
      ),
  },
  {
    id: "seeds",
    title: "Seed head",
    about: "golden spiral on a dome",
    make: () =>
      build(
        "Seed head",
        [
          ["dome", "spiral-sites", [0, 0], { count: 900, on: "dome", radius: 3, rise: 1.4 }],
          ["seed", "sphere", [0, 280], { radius: 0.09, around: 8, rings: 6 }],
          ["clones", "clone-onto-sites", [270, 40]],
          ["swell", "noise", [270, 300], { size: 1.4, speed: 0.5, loop: true }],
          ["size", "remap", [540, 300], { fromLow: -0.5, fromHigh: 0.5, toLow: 0.4, toHigh: 1.6 }],
          ["grow", "scale", [540, 20]],
          ["colors", "gradient", [800, 300], { low: -0.5, high: 0.5 }],
          ["paint", "tint", [800, 20]],
          STAGE(1060),
        ],
        [
          ["dome.sites", "clones.sites"],
          ["seed.shape", "clones.shapes"],
          ["clones.clones", "grow.shape"],
          ["swell.value", "size.value"],
          ["size.value", "grow.size"],
          ["swell.value", "colors.value"],
          ["grow.shape", "paint.shape"],
          ["colors.color", "paint.color"],
          ["paint.shape", "stage.shape"],
        ],
      ),
  },
  {
    id: "blank",
    title: "Blank piece",
    about: "only a stage",
    make: () => build("Untitled piece", [STAGE(300)], []),
  },
];
