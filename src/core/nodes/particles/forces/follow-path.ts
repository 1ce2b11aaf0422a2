import { clamp, constant, positionField, type VectorField } from "../../../fields/expression";
import { evenly, less, sum, timesEach } from "../../../fields/vector-fields";
import { dragging } from "../../../particles/forces";
import { nearestOnCurves } from "../../curve-queries";
import { defineNode } from "../../define";
import { field, out, shape } from "../../ports";

export const followPath = defineNode({
  type: "follow-path",
  family: "simulate",
  title: "Follow path",
  about: "Leads particles along curves and back to them when they stray.",
  synonyms: ["along curve", "stream along", "guide", "rail", "river", "traffic", "curve force"],
  inputs: {
    shape: shape({ about: "Curves; the nearest one leads." }),
    speed: field.number({
      default: 1,
      soft: [-5, 5],
      about: "Units a second along it; below 0 the other way.",
    }),
    pull: field.number({
      default: 2,
      min: 0,
      soft: [0, 10],
      about: "How strongly they are drawn to the curve: units a second for each unit away.",
    }),
    grip: field.number({ default: 4, min: 0, soft: [0, 15], about: "How soon they do as they are led." }),
  },
  outputs: { force: out.force("For Particles.") },
  summary: ({ speed }) => `${speed} units a second`,
  evaluate({ shape, speed, pull, grip }, context) {
    const from = positionField();
    const found = nearestOnCurves(shape.curves, from, context);
    if (!found) {
      context.warn("No curves arrive, so nothing leads.", { input: "shape" });
      return { force: dragging("Follow path", constant(0), constant(0), evenly([0, 0, 0])) };
    }
    const [, x, y, z, dx, dy, dz] = found;
    const along = timesEach([dx, dy, dz], speed);
    const back = timesEach(less([x, y, z], from), pull);
    return {
      force: dragging(
        "Follow path",
        clamp(grip, constant(0), constant(STRONGEST)),
        constant(0),
        sum(along, back) as VectorField,
      ),
    };
  },
});

/** A grip at which particles do as they are led within any step. */
const STRONGEST = 1e6;
