import { coneMesh } from "../../geometry/primitives";
import { defineNode } from "../define";
import { integer, length, out, toggle } from "../ports";

export const cone = defineNode({
  type: "cone",
  family: "make",
  title: "Cone",
  about: "A cone, or with a tip radius a cup, standing along the Y axis and centred on the origin.",
  synonyms: ["spike", "thorn", "cup", "pyramid"],
  inputs: {
    radius: length({ default: 0.5, min: 0, soft: [0, 4], about: "At the bottom." }),
    tip: length({ default: 0, min: 0, soft: [0, 4], about: "Radius at the top; 0 for a point." }),
    height: length({ default: 1, min: 0, soft: [0, 4], about: "From bottom to top." }),
    around: integer({ default: 24, min: 3, soft: [3, 96], about: "Faces around." }),
    bands: integer({ default: 1, min: 1, soft: [1, 32], about: "Bands from bottom to top." }),
    caps: toggle({ default: true, about: "Close the flat ends." }),
  },
  outputs: { shape: out.shape("The cone as a mesh.") },
  summary: ({ radius, height }) => `radius ${radius}, ${height} high`,
  cost: ({ around, bands }) => ({ points: around * (bands + 1), faces: around * (bands + 1) }),
  evaluate: ({ radius, tip, height, around, bands, caps }) => ({
    shape: { mesh: coneMesh(radius, tip, height, around, bands, caps) },
  }),
});
