import { cylinderMesh } from "../../geometry/primitives";
import { defineNode } from "../define";
import { integer, length, out, toggle } from "../ports";

export const cylinder = defineNode({
  type: "cylinder",
  family: "make",
  title: "Cylinder",
  about: "A round column standing along the Y axis, centred on the origin.",
  synonyms: ["disc", "tube", "prism", "coin", "column"],
  inputs: {
    radius: length({ default: 0.5, min: 0, soft: [0, 4], about: "Of the round cross-section." }),
    height: length({ default: 1, min: 0, soft: [0, 4], about: "From bottom to top." }),
    around: integer({ default: 24, min: 3, soft: [3, 96], about: "Faces around." }),
    bands: integer({ default: 1, min: 1, soft: [1, 32], about: "Bands from bottom to top." }),
    caps: toggle({ default: true, about: "Close bottom and top." }),
  },
  outputs: { shape: out.shape("The cylinder as a mesh.") },
  summary: ({ radius, height }) => `radius ${radius}, ${height} high`,
  cost: ({ around, bands }) => ({ points: around * (bands + 1), faces: around * bands + 2 }),
  evaluate: ({ radius, height, around, bands, caps }) => ({
    shape: { mesh: cylinderMesh(radius, height, around, bands, caps) },
  }),
});
