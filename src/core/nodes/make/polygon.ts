import { polygonMesh } from "../../geometry/primitives";
import { defineNode } from "../define";
import { integer, length, out } from "../ports";

export const polygon = defineNode({
  type: "polygon",
  family: "make",
  title: "Polygon",
  about: "A flat regular polygon lying down, facing up.",
  synonyms: ["triangle", "hexagon", "pentagon", "flat", "tile"],
  inputs: {
    radius: length({ default: 0.5, min: 0, soft: [0, 4], about: "From the middle to the corners." }),
    sides: integer({ default: 6, min: 3, soft: [3, 24], about: "How many sides." }),
  },
  outputs: { shape: out.shape("The polygon as one face.") },
  summary: ({ sides, radius }) => `${sides} sides, radius ${radius}`,
  cost: ({ sides }) => ({ points: sides, faces: 1 }),
  evaluate: ({ radius, sides }) => ({ shape: { mesh: polygonMesh(radius, sides) } }),
});
