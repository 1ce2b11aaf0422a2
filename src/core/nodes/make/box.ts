import { boxMesh } from "../../geometry/primitives";
import { defineNode } from "../define";
import { integer, out, vector } from "../ports";

export const box = defineNode({
  type: "box",
  family: "make",
  title: "Box",
  about: "A box centred on the origin.",
  synonyms: ["cube", "block", "brick"],
  inputs: {
    size: vector({ default: [1, 1, 1], soft: [0, 4], min: 0, about: "Edge lengths." }),
    cuts: integer({ default: 0, min: 0, soft: [0, 16], about: "Cuts across each side." }),
  },
  outputs: { shape: out.shape("The box as a mesh.") },
  summary: ({ size }) => `${(size as number[]).join(" × ")} units`,
  cost: ({ cuts }) => ({
    points: 6 * (cuts + 1) * (cuts + 1) + 2,
    faces: 6 * (cuts + 1) * (cuts + 1),
  }),
  evaluate: ({ size, cuts }) => ({ shape: { mesh: boxMesh(size, cuts) } }),
});
