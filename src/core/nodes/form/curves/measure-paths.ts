import { CURVE_MEASURES, measuredCurves } from "../../../curves/measure";
import { column } from "../../../fields/expression";
import { makeColumn, withColumns } from "../../../geometry/column";
import { defineNode } from "../../define";
import { choice, out, shape } from "../../ports";
import { pathsOf } from "../surfaces/input-paths";

/** Attribute names, of one word each. */
const NAMES = {
  "length so far": "length",
  "whole length": "length",
  curvature: "curvature",
  torsion: "torsion",
  turn: "turn",
} as const;

export const measurePaths = defineNode({
  type: "measure-paths",
  family: "form",
  title: "Measure paths",
  about:
    "What curves are like at each of their points: how long, how bent, how wound. As an attribute and as a field.",
  synonyms: ["curvature", "torsion", "length", "arc length", "bend", "angle", "radius of curvature"],
  inputs: {
    shape: shape({ about: "Curves." }),
    what: choice(CURVE_MEASURES, {
      default: "curvature",
      about:
        "Lengths in units; curvature is 1 ÷ the radius of the bend, torsion how far it turns out of its plane for each unit, turn the angle at the point; angles in radians.",
    }),
  },
  outputs: {
    shape: out.shape("The same, with the attribute length, curvature, torsion or turn on its points."),
    value: out.number("The measure, where the same curves arrive."),
  },
  summary: ({ what }) => String(what),
  cost: ({ shape }) => ({ milliseconds: (shape.curves?.points.count ?? 0) * 0.001 }),
  evaluate({ shape, what }, context) {
    const name = NAMES[what];
    const value = column(name, 0);
    const curves = pathsOf(shape, "measure", context);
    if (!curves) return { shape, value };
    const measured = makeColumn("number", [measuredCurves(curves, what)]);
    return {
      shape: { ...shape, curves: { ...curves, points: withColumns(curves.points, { [name]: measured }) } },
      value,
    };
  },
});
