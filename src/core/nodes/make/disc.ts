import { discMesh } from "../../geometry/primitives";
import { defineNode } from "../define";
import { integer, length, number, out } from "../ports";

export const disc = defineNode({
  type: "disc",
  family: "make",
  title: "Disc",
  about: "A flat round piece lying down, facing up.",
  synonyms: ["circle", "coin", "washer"],
  inputs: {
    radius: length({ default: 0.5, min: 0, soft: [0, 4], about: "Of the outer edge." }),
    hole: number({
      default: 0,
      min: 0,
      max: 0.999,
      soft: [0, 0.95],
      about: "Radius of the hole as a share of the whole.",
    }),
    around: integer({ default: 32, min: 3, soft: [3, 128], about: "Faces around." }),
    rings: integer({ default: 1, min: 1, soft: [1, 16], about: "Bands from edge to middle." }),
  },
  outputs: { shape: out.shape("The disc as a mesh.") },
  summary: ({ radius }) => `radius ${radius} units`,
  cost: ({ around, rings }) => ({ points: around * (rings + 1), faces: around * rings }),
  evaluate: ({ radius, hole, around, rings }) => ({ shape: { mesh: discMesh(radius, hole, around, rings) } }),
});
