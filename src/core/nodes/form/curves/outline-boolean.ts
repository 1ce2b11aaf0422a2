import { BOOLEANS, combinedOutlines, regionsOf } from "../../../geometry/outlines";
import { curvesInPlane, planeOf } from "../../../geometry/plane";
import { EMPTY_SHAPE } from "../../../geometry/shape";
import { defineNode } from "../../define";
import { choice, out, shape } from "../../ports";
import { fillRule } from "./fill-outline";
import { flatOutlines } from "./outline-regions";

export const outlineBoolean = defineNode({
  type: "outline-boolean",
  family: "form",
  title: "Outline boolean",
  about: "What two sets of closed curves enclose together, what one encloses without the other, or both.",
  synonyms: [
    "union",
    "subtract",
    "intersect",
    "xor",
    "cut out",
    "combine outlines",
    "merge outlines",
    "stencil",
  ],
  inputs: {
    shape: shape({ about: "Closed curves; the plane that they lie in counts." }),
    other: shape({ about: "Closed curves, as they look from the front of that plane." }),
    how: choice(BOOLEANS, { about: "What is kept." }),
    inside: fillRule(),
  },
  outputs: {
    shape: out.shape(
      "The outlines; edges run counter-clockwise, holes clockwise. What points had is not kept.",
    ),
  },
  summary: ({ how }) => String(how),
  cost: ({ shape, other }) => {
    const points = (shape.curves?.points.count ?? 0) + (other.curves?.points.count ?? 0);
    return { points: points * 2, milliseconds: points * 0.03 };
  },
  evaluate({ shape, other, how, inside }, context) {
    const first = flatOutlines(shape.curves, context);
    const second = flatOutlines(other.curves, context, "other", shape.curves && planeOf(shape.curves));
    if (!first) return { shape: EMPTY_SHAPE };
    const outlines = combinedOutlines(
      regionsOf(first.outlines, inside),
      second ? regionsOf(second.outlines, inside) : [],
      how,
    );
    if (outlines.length === 0) context.note("Nothing is left of them.");
    return { shape: { curves: curvesInPlane(first.plane, outlines) } };
  },
});
