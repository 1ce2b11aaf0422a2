import { simplified } from "../../../curves/simplify";
import { defineNode } from "../../define";
import { length, out, shape } from "../../ports";
import { pathsOf } from "../surfaces/input-paths";

export const simplifyPaths = defineNode({
  type: "simplify-paths",
  family: "form",
  title: "Simplify paths",
  about: "Leaves out points of curves that change them by less than a distance.",
  synonyms: ["reduce points", "decimate curve", "fewer points", "optimise", "clean up outline"],
  inputs: {
    shape: shape({ about: "Curves." }),
    distance: length({
      default: 0.01,
      min: 0,
      soft: [0, 0.2],
      about: "How far a point that is left out may lie off what is left.",
    }),
  },
  outputs: { shape: out.shape("The curves with fewer points, which have what they had.") },
  summary: ({ distance }) => `within ${distance} units`,
  evaluate({ shape, distance }, context) {
    const curves = pathsOf(shape, "simplify", context);
    if (!curves) return { shape };
    const made = simplified(curves, distance);
    context.note(`${made.points.count} of ${curves.points.count} points are left.`);
    return { shape: { ...shape, curves: made } };
  },
});
