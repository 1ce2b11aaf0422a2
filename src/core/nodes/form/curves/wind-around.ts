import { AlongCurves } from "../../../curves/along-curves";
import { evenSamples } from "../../../curves/even-samples";
import { sampledCurves } from "../../../curves/sampled-curves";
import { WINDINGS, wound } from "../../../curves/wind";
import { isClosedCurve } from "../../../geometry/curves";
import { defineNode } from "../../define";
import { choice, field, integer, number, out, shape } from "../../ports";
import { pathsOf } from "../surfaces/input-paths";

export const windAround = defineNode({
  type: "wind-around",
  family: "form",
  title: "Wind around",
  about: "Curves that wind around others as a tendril does, or swing to and fro along them.",
  synonyms: ["spiral", "coil", "helix along path", "spring", "zigzag", "wave along path", "tendril", "twine"],
  inputs: {
    shape: shape({ about: "Curves." }),
    how: choice(WINDINGS, { about: "Round and round, or from side to side." }),
    radius: field.number({ default: 0.2, soft: [0, 1], unit: "units", about: "How far off, at each point." }),
    turns: number({
      default: 8,
      soft: [0, 40],
      about: "Over the whole length; whole numbers close closed curves.",
    }),
    phase: number({
      default: 0,
      soft: [0, 1],
      about: "Where it begins, as a part of a turn; from 0 to 1 it loops.",
    }),
    points: integer({ default: 24, min: 3, max: 1000, soft: [6, 64], about: "For each turn." }),
  },
  outputs: { shape: out.shape("The curves, with what the others' points carry.") },
  summary: ({ how, turns }) => `${how}, ${turns} turns`,
  cost: ({ shape, turns, points }) => ({
    points: (shape.curves?.points.count ?? 0) + (shape.curves?.curves.count ?? 0) * Math.abs(turns) * points,
  }),
  evaluate({ shape, how, radius, turns, phase, points }, context) {
    const curves = pathsOf(shape, "wind around", context);
    if (!curves) return { shape };
    const along = new AlongCurves(curves);
    const fine = sampledCurves(
      curves,
      Array.from({ length: curves.curves.count }, (_, k) => {
        const own = curves.curveStarts[k + 1] - curves.curveStarts[k];
        const wanted = Math.max(own, Math.ceil(Math.abs(turns) * points) + 1);
        return { of: k, closed: isClosedCurve(curves, k), samples: evenSamples(curves, along, k, wanted) };
      }),
    );
    const [radii] = context.run([radius], fine.points);
    return { shape: { ...shape, curves: wound(fine, how, radii, turns, phase) } };
  },
});
