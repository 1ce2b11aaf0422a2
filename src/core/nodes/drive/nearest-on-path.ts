import { constant, type VectorField } from "../../fields/expression";
import { nearestOnCurves } from "../curve-queries";
import { defineNode } from "../define";
import { field, out, shape } from "../ports";

export const nearestOnPath = defineNode({
  type: "nearest-on-path",
  family: "drive",
  title: "Nearest on path",
  about: "The nearest place on curves: how far it is, and how far along its curve it lies.",
  synonyms: [
    "distance to curve",
    "closest on curve",
    "curve parameter",
    "along the path",
    "proximity",
    "road",
  ],
  inputs: {
    shape: shape({ about: "Curves." }),
    place: field.vector({
      default: [0, 0, 0],
      implicit: "position",
      about: "Where it is looked from; the element's position unless linked.",
    }),
  },
  outputs: {
    distance: out.number("Units from here to there."),
    at: out.number("How far along its curve: 0 its beginning, 1 its end, by length."),
    place: out.vector("Where it is."),
    direction: out.vector("Which way the curve goes there, unit."),
    curve: out.number("Which curve, counted from 0."),
  },
  evaluate({ shape, place }, context) {
    const found = nearestOnCurves(shape.curves, place, context);
    if (!found) {
      context.warn("No curves arrive, so the distance is 0 everywhere.", { input: "shape" });
      const none = constant(0);
      return { distance: none, at: none, place, direction: [none, none, none] as VectorField, curve: none };
    }
    const [distance, x, y, z, dx, dy, dz, at, curve] = found;
    return {
      distance,
      at,
      place: [x, y, z] as VectorField,
      direction: [dx, dy, dz] as VectorField,
      curve,
    };
  },
});
