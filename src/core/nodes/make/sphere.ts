import { sphereMesh } from "../../geometry/primitives";
import { defineNode } from "../define";
import { integer, length, out } from "../ports";

export const sphere = defineNode({
  type: "sphere",
  family: "make",
  title: "Sphere",
  about: "A ball built of rings, its poles up and down.",
  synonyms: ["ball", "globe", "bead", "round"],
  inputs: {
    radius: length({ default: 0.5, min: 0, soft: [0, 4], about: "From the middle to the surface." }),
    around: integer({ default: 24, min: 3, soft: [3, 96], about: "Faces around." }),
    rings: integer({ default: 12, min: 2, soft: [2, 48], about: "Bands from pole to pole." }),
  },
  outputs: { shape: out.shape("The ball as a mesh.") },
  summary: ({ radius }) => `radius ${radius} units`,
  cost: ({ around, rings }) => ({ points: around * rings }),
  evaluate: ({ radius, around, rings }) => ({ shape: { mesh: sphereMesh(radius, around, rings) } }),
});
