import { CURVE_SMOOTHINGS, cornersCut, evenedOut } from "../../../curves/smooth";
import { defineNode } from "../../define";
import { choice, field, integer, out, shape } from "../../ports";
import { pathsOf } from "../surfaces/input-paths";

/** Points that one round of cutting makes of each. */
const [CUT, MOST_CUTS] = [2, 8];

export const smoothPaths = defineNode({
  type: "smooth-paths",
  family: "form",
  title: "Smooth paths",
  about:
    "Evens curves out, by drawing points between their neighbours or by cutting corners off again and again.",
  synonyms: ["relax curve", "chaikin", "round", "even out", "soften path", "iron"],
  inputs: {
    shape: shape({ about: "Curves." }),
    how: choice(CURVE_SMOOTHINGS, {
      about: "The points stay as many, or are twice as many after each round.",
    }),
    rounds: integer({
      default: 4,
      min: 0,
      max: 1000,
      soft: [0, 20],
      about: "How often; corners are cut 8 times at most.",
    }),
    amount: field.number({
      default: 1,
      min: 0,
      max: 1,
      soft: [0, 1],
      shownWhen: { input: "how", is: ["between neighbours"] },
      about: "How far at each point; link a mask here.",
    }),
  },
  outputs: { shape: out.shape("The smoother curves; the ends of open ones stay.") },
  summary: ({ how, rounds }) => `${rounds} ×, ${how}`,
  cost: ({ shape, how, rounds }) => {
    const points = shape.curves?.points.count ?? 0;
    return how === "corners cut"
      ? { points: points * CUT ** Math.min(rounds, MOST_CUTS) }
      : { points, milliseconds: points * rounds * 1e-4 };
  },
  evaluate({ shape, how, rounds, amount }, context) {
    const curves = pathsOf(shape, "smooth", context);
    if (!curves || rounds === 0) return { shape };
    if (how === "corners cut")
      return { shape: { ...shape, curves: cornersCut(curves, Math.min(rounds, MOST_CUTS)) } };
    const [amounts] = context.run([amount], curves.points);
    return { shape: { ...shape, curves: evenedOut(curves, rounds, amounts) } };
  },
});
