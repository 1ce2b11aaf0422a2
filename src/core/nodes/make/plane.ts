import { planeMesh } from "../../geometry/primitives";
import { defineNode } from "../define";
import { integer, length, out } from "../ports";

export const plane = defineNode({
  type: "plane",
  family: "make",
  title: "Plane",
  about: "A flat rectangle lying down, facing up, cut into a lattice.",
  synonyms: ["sheet", "floor", "rectangle", "card"],
  inputs: {
    width: length({ default: 2, min: 0, soft: [0, 10], about: "Along X." }),
    depth: length({ default: 2, min: 0, soft: [0, 10], about: "Along Z." }),
    across: integer({ default: 1, min: 1, soft: [1, 100], about: "Faces along X." }),
    deep: integer({ default: 1, min: 1, soft: [1, 100], about: "Faces along Z." }),
  },
  outputs: { shape: out.shape("The plane as a mesh.") },
  summary: ({ width, depth }) => `${width} × ${depth} units`,
  cost: ({ across, deep }) => ({ points: (across + 1) * (deep + 1), faces: across * deep }),
  evaluate: ({ width, depth, across, deep }) => ({ shape: { mesh: planeMesh(width, depth, across, deep) } }),
});
