import { blended } from "../../../curves/blend";
import { defineNode } from "../../define";
import { field, out, shape } from "../../ports";
import { pathsOf } from "../surfaces/input-paths";

export const blendPaths = defineNode({
  type: "blend-paths",
  family: "form",
  title: "Blend paths",
  about: "Curves between two others, of any counts of points: one outline becomes another.",
  synonyms: ["morph", "interpolate curves", "tween", "in between", "transform outline", "shape tween"],
  inputs: {
    shape: shape({ about: "The curves at 0." }),
    other: shape({ about: "The curves at 1." }),
    amount: field.number({
      default: 0.5,
      soft: [0, 1],
      about: "How far from one to the other, by curve; keys make it move.",
    }),
  },
  outputs: { shape: out.shape("The curves between, with what those at 0 carry; open where either is.") },
  evaluate({ shape, other, amount }, context) {
    const first = pathsOf(shape, "blend", context);
    const second = pathsOf(other, "blend with", context, "other");
    if (!first || !second) return { shape };
    const [amounts] = context.run([amount], first.curves);
    return {
      shape: { ...shape, curves: blended(first, second, (k) => amounts[Math.min(k, amounts.length - 1)]) },
    };
  },
});
