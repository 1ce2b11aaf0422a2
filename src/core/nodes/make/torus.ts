import { torusMesh } from "../../geometry/primitives";
import { defineNode } from "../define";
import { integer, length, out } from "../ports";

export const torus = defineNode({
  type: "torus",
  family: "make",
  title: "Torus",
  about: "A round tube closed to a ring around the Y axis.",
  synonyms: ["ring", "tyre", "hoop"],
  inputs: {
    radius: length({ default: 1, min: 0, soft: [0, 4], about: "From the middle to the middle of the tube." }),
    tube: length({ default: 0.25, min: 0, soft: [0, 2], about: "Radius of the tube." }),
    around: integer({ default: 32, min: 3, soft: [3, 128], about: "Faces around the ring." }),
    across: integer({ default: 16, min: 3, soft: [3, 64], about: "Faces around the tube." }),
  },
  outputs: { shape: out.shape("The torus as a mesh.") },
  summary: ({ radius, tube }) => `radius ${radius}, tube ${tube}`,
  cost: ({ around, across }) => ({ points: around * across, faces: around * across }),
  evaluate: ({ radius, tube, around, across }) => ({
    shape: { mesh: torusMesh(radius, tube, around, across) },
  }),
});
