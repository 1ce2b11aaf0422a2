import { makeCurve } from "../../geometry/curves";
import { defineNode } from "../define";
import { integer, out, vector } from "../ports";

export const line = defineNode({
  type: "line",
  family: "make",
  title: "Line",
  about: "A straight line between two places, with points along it.",
  synonyms: ["curve", "segment", "straight", "stroke", "edge"],
  inputs: {
    from: vector({ default: [0, 0, 0], soft: [-10, 10], about: "Where it begins." }),
    to: vector({ default: [0, 2, 0], soft: [-10, 10], about: "Where it ends." }),
    points: integer({ default: 2, min: 2, soft: [2, 100], about: "How many, both ends included." }),
  },
  outputs: { shape: out.shape("The line as a curve.") },
  summary: ({ points }) => `${points} points`,
  cost: ({ points }) => ({ points }),
  evaluate: ({ from, to, points }) => ({
    shape: {
      curves: makeCurve(points, false, (i) => {
        const t = i / (points - 1);
        return [0, 1, 2].map((a) => from[a] + t * (to[a] - from[a])) as [number, number, number];
      }),
    },
  }),
});
