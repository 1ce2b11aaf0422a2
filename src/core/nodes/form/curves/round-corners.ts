import { roundedCorners } from "../../../curves/round-corners";
import { defineNode } from "../../define";
import { field, integer, out, shape } from "../../ports";
import { pathsOf } from "../surfaces/input-paths";

export const roundCorners = defineNode({
  type: "round-corners",
  family: "form",
  title: "Round corners",
  about: "Puts an arc in place of every corner of curves, as large as there is room for.",
  synonyms: ["fillet", "radius", "bevel curve", "soft corners", "rounded rectangle", "smooth corners"],
  inputs: {
    shape: shape({ about: "Curves." }),
    radius: field.number({
      default: 0.2,
      min: 0,
      soft: [0, 1],
      unit: "units",
      about: "Of the arc, at each point; 0 leaves a corner.",
    }),
    steps: integer({
      default: 6,
      min: 1,
      max: 256,
      soft: [1, 16],
      about: "Pieces of an arc of 90°; 1 cuts it straight.",
    }),
  },
  outputs: { shape: out.shape("The curves; what points have is mixed along the arcs.") },
  summary: ({ radius }) => `${radius} units`,
  cost: ({ shape, steps }) => ({ points: (shape.curves?.points.count ?? 0) * (steps + 1) }),
  evaluate({ shape, radius, steps }, context) {
    const curves = pathsOf(shape, "round", context);
    if (!curves) return { shape };
    const [radii] = context.run([radius], curves.points);
    return { shape: { ...shape, curves: roundedCorners(curves, radii, steps) } };
  },
});
