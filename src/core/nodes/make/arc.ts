import { makeCurve } from "../../geometry/curves";
import { cosine, sine } from "../../maths/exact";
import { defineNode } from "../define";
import { angle, integer, length, out } from "../ports";

export const arc = defineNode({
  type: "arc",
  family: "make",
  title: "Arc",
  about: "Part of a circle lying down, or the whole; it may rise as it goes round.",
  synonyms: ["curve", "circle", "ring", "bow", "round", "turn"],
  inputs: {
    radius: length({ default: 1, min: 0, soft: [0, 10], about: "From the middle." }),
    start: angle({ default: 0, about: "Where it begins; 0 is along x." }),
    sweep: angle({ default: 360, about: "How far round; 360 without a rise closes it." }),
    rise: length({ default: 0, soft: [-5, 5], about: "How much higher its end is than its beginning." }),
    points: integer({ default: 48, min: 2, soft: [3, 200], about: "How many." }),
  },
  outputs: { shape: out.shape("The arc as a curve.") },
  summary: ({ radius, sweep }) => `${sweep}° around ${radius} units`,
  cost: ({ points }) => ({ points }),
  evaluate({ radius, start, sweep, rise, points }) {
    const closed = rise === 0 && Math.abs(Math.abs(sweep) - 2 * Math.PI) < 1e-6;
    const last = closed ? points : points - 1;
    return {
      shape: {
        curves: makeCurve(points, closed, (i) => {
          const turned = start + (sweep * i) / last;
          return [radius * cosine(turned), (rise * i) / last, -radius * sine(turned)];
        }),
      },
    };
  },
});
