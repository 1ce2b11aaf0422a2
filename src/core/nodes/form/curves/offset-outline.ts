import { JOINS, offsetOutlines } from "../../../geometry/outlines";
import { curvesInPlane } from "../../../geometry/plane";
import { EMPTY_SHAPE } from "../../../geometry/shape";
import { defineNode } from "../../define";
import { choice, integer, number, out, shape } from "../../ports";
import { fillRule } from "./fill-outline";
import { filledRegions, flatOutlines } from "./outline-regions";

export const offsetOutline = defineNode({
  type: "offset-outline",
  family: "form",
  title: "Offset outline",
  about: "Outlines around closed curves at a distance, or within them, as often as wanted.",
  synonyms: ["parallel", "inset", "outset", "grow outline", "shrink outline", "border", "contour", "echo"],
  inputs: {
    shape: shape({ about: "Closed curves that lie in a plane." }),
    distance: number({
      default: 0.1,
      soft: [-1, 1],
      unit: "units",
      about: "How far outwards; less than 0 goes inwards, until nothing is left.",
    }),
    times: integer({
      default: 1,
      min: 1,
      max: 1000,
      soft: [1, 12],
      about: "How many, each as far from the one before.",
    }),
    corners: choice(JOINS, { default: "round", about: "How they go around corners." }),
    inside: fillRule(),
  },
  outputs: {
    shape: out.shape(
      "The outlines; edges run counter-clockwise, holes clockwise. What points had is not kept.",
    ),
  },
  summary: ({ distance, times }) => `${times} × ${distance} units`,
  cost: ({ shape, times }) => {
    const points = (shape.curves?.points.count ?? 0) * times * 2;
    return { points, milliseconds: points * 0.03 };
  },
  evaluate({ shape, distance, times, corners, inside }, context) {
    const flat = flatOutlines(shape.curves, context);
    if (!flat) return { shape: EMPTY_SHAPE };
    const regions = filledRegions(flat, inside, context);
    const outlines = Array.from({ length: times }, (_, i) =>
      offsetOutlines(regions, distance * (i + 1), corners),
    );
    const gone = outlines.filter((list) => list.length === 0).length;
    if (regions.length > 0 && gone > 0)
      context.note(`${gone} of ${times} have nothing left: the shape is too narrow for them.`);
    return { shape: { curves: curvesInPlane(flat.plane, outlines.flat()) } };
  },
});
