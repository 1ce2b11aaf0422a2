import { starMesh } from "../../geometry/primitives";
import { defineNode } from "../define";
import { integer, length, out } from "../ports";

export const star = defineNode({
  type: "star",
  family: "make",
  title: "Star",
  about: "A flat star lying down, facing up.",
  synonyms: ["spikes", "flower", "burst", "flat"],
  inputs: {
    outer: length({ default: 0.5, min: 0, soft: [0, 4], about: "From the middle to the tips." }),
    inner: length({ default: 0.22, min: 0, soft: [0, 4], about: "From the middle to the notches." }),
    points: integer({ default: 5, min: 2, soft: [3, 24], about: "How many tips." }),
  },
  outputs: { shape: out.shape("The star as one face.") },
  summary: ({ points }) => `${points} tips`,
  cost: ({ points }) => ({ points: points * 2 }),
  evaluate: ({ outer, inner, points }) => ({ shape: { mesh: starMesh(outer, inner, points) } }),
});
