import { EMPTY_SHAPE } from "../../geometry/shape";
import { sweep } from "../../geometry/sweep";
import { defineNode } from "../define";
import { field, integer, out, shape, toggle } from "../ports";

export const tube = defineNode({
  type: "tube",
  family: "form",
  title: "Tube",
  about: "A skin around curves, as thick at each of their points as asked, that turns only by their `tilt`.",
  synonyms: ["pipe", "sweep", "thicken", "cable", "rope", "stem", "line to mesh", "width"],
  inputs: {
    shape: shape({ about: "Curves." }),
    radius: field.number({
      default: 0.05,
      min: 0,
      soft: [0, 0.5],
      unit: "units",
      about:
        "From the curve to the skin, at each of its points; times their attribute `radius`, if they have it.",
    }),
    sides: integer({ default: 10, min: 3, max: 256, soft: [3, 32], about: "Faces around." }),
    caps: toggle({ default: true, about: "Closes the ends of open curves." }),
  },
  outputs: { shape: out.shape("The mesh; colours of the curves' points are kept.") },
  summary: ({ sides, radius }) => `${sides} sides, ${radius} units`,
  cost: ({ shape, sides }) => {
    const points = (shape.curves?.points.count ?? 0) * sides;
    return { points, faces: points };
  },
  evaluate({ shape, radius, sides, caps }, context) {
    const { curves } = shape;
    if (!curves || curves.points.count === 0) {
      context.warn("No curves arrive, so there is nothing to put a skin around.", { input: "shape" });
      return { shape: EMPTY_SHAPE };
    }
    const [thick] = context.run([radius], curves.points);
    const single = curves.curveStarts.reduce(
      (n, start, k) => n + (curves.curveStarts[k + 1] - start === 1 ? 1 : 0),
      0,
    );
    if (single > 0) context.warn(`${single} curves of a single point have no skin.`);
    const mesh = sweep(curves, thick, { sides, caps });
    return { shape: mesh ? { mesh } : EMPTY_SHAPE };
  },
});
