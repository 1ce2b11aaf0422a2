import { AlongCurves } from "../../curves/along-curves";
import { applyAll, constant, type VectorField } from "../../fields/expression";
import { freshKey } from "../../fields/fresh-key";
import { curveTangents } from "../../geometry/curves";
import { defineNode } from "../define";
import { field, integer, out, shape } from "../ports";

export const pathSample = defineNode({
  type: "path-sample",
  family: "drive",
  title: "Path sample",
  about: "The place at a part of a curve's length, and which way the curve goes there.",
  synonyms: ["along a curve", "handle on a path", "follow", "curve position", "travel", "rail"],
  inputs: {
    shape: shape({ about: "Curves." }),
    at: field.number({
      default: 0,
      soft: [0, 1],
      about: "0 its beginning, 1 its end, by length; further on round a closed one.",
    }),
    curve: integer({ default: 0, min: 0, soft: [0, 10], about: "Which curve, counted from 0." }),
  },
  outputs: {
    place: out.vector("Where that is."),
    direction: out.vector("Which way the curve goes there, unit."),
    length: out.number("The length of the curve, units."),
  },
  evaluate({ shape, at, curve }, context) {
    const { curves } = shape;
    const zero = constant(0);
    if (!curves || curves.points.count === 0) {
      context.warn("No curves arrive, so the place is the origin.", { input: "shape" });
      return {
        place: [zero, zero, zero] as VectorField,
        direction: [zero, zero, zero] as VectorField,
        length: zero,
      };
    }
    const along = new AlongCurves(curves);
    const k = Math.min(curve, along.count - 1);
    if (k !== curve)
      context.warn(`There are only ${along.count} curves, so the last one is taken.`, { input: "curve" });
    const data = {
      key: freshKey(),
      along,
      curve: k,
      lanes: [...curves.points.columns.position.lanes, ...curveTangents(curves)],
    };
    const [x, y, z, dx, dy, dz] = applyAll("alongCurve", [at], data);
    return {
      place: [x, y, z] as VectorField,
      direction: [dx, dy, dz] as VectorField,
      length: constant(along.lengths[k]),
    };
  },
});
