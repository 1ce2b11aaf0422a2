import { AlongCurves } from "../../../curves/along-curves";
import { PartsBetween } from "../../../curves/part-between";
import { type SampledCurve, sampledCurves } from "../../../curves/sampled-curves";
import { makeColumn, withColumns } from "../../../geometry/column";
import { curveLengths } from "../../../geometry/curves";
import { EMPTY_SHAPE } from "../../../geometry/shape";
import { defineNode } from "../../define";
import { choice, field, length, out, shape } from "../../ports";

const FITS = ["stretched to whole dashes", "as long as they are"] as const;

export const dashes = defineNode({
  type: "dashes",
  family: "form",
  title: "Dashes",
  about: "Curves cut into dashes that can run along them.",
  synonyms: ["dashed line", "dotted", "stroke pattern", "marching", "stitches", "broken line", "gaps"],
  inputs: {
    shape: shape({ about: "Curves." }),
    dash: length({ default: 0.2, min: 0.0001, soft: [0.01, 1], about: "How long a dash is." }),
    gap: length({ default: 0.15, min: 0, soft: [0, 1], about: "How long the gap after it is." }),
    run: field.number({
      default: 0,
      soft: [-2, 2],
      unit: "units",
      about: "How far they have run along each curve; drive it with time.",
    }),
    fit: choice(FITS, {
      about:
        "Whether a whole number of them is on each curve, so that closed ones have no seam, or what is left over is cut.",
    }),
  },
  outputs: {
    shape: out.shape(
      "A curve for each dash, with what its curve carries; `dash` is its number there, `place` where its middle is, from 0 to 1.",
    ),
  },
  summary: ({ dash, gap }) => `${dash} and ${gap}`,
  cost: ({ shape: { curves }, dash, gap }) => ({
    points: curves
      ? curves.points.count + curveLengths(curves).reduce((sum, whole) => sum + (2 * whole) / (dash + gap), 0)
      : 0,
  }),
  evaluate({ shape, dash, gap, run, fit }, context) {
    const { curves } = shape;
    if (!curves || curves.points.count === 0) {
      context.warn("No curves arrive, so there is nothing to cut.", { input: "shape" });
      return { shape: EMPTY_SHAPE };
    }
    const along = new AlongCurves(curves);
    const [runs] = context.run([run], curves.curves);
    const made: SampledCurve[] = [];
    const [numbers, places]: [number[], number[]] = [[], []];
    for (let k = 0; k < along.count; k++) {
      const whole = along.lengths[k];
      if (whole === 0) continue;
      const parts = new PartsBetween(along, k, curves.curveStarts[k]);
      const isRound = along.isRound(k);
      const times = Math.max(1, Math.round((whole + (isRound ? 0 : gap)) / (dash + gap)));
      // An open curve ends with a dash, so that both of its ends are drawn while nothing runs.
      const scale = fit === "as long as they are" ? 1 : whole / (times * (dash + gap) - (isRound ? 0 : gap));
      const step = ((dash + gap) * scale) / whole;
      const size = (dash * scale) / whole;
      const moved = runs[k] / whole;
      // Those of a closed curve begin where they have run to; on an open one they come in at its beginning.
      const first = isRound ? 0 : -Math.ceil(moved / step);
      const end = isRound ? 1 : 1 - moved;
      for (let n = first; n * step < end - 1e-9; n++) {
        const [a, b] = [n * step, isRound ? Math.min(n * step + size, end) : n * step + size];
        const part = parts.between(a + moved, b + moved);
        if (!part) continue;
        const middle = (a + b) / 2 + moved;
        made.push(part);
        numbers.push(n - first);
        places.push(isRound ? middle - Math.floor(middle) : Math.min(1, Math.max(0, middle)));
      }
    }
    const cut = sampledCurves(curves, made);
    const columns = {
      dash: makeColumn("integer", [Int32Array.from(numbers)]),
      place: makeColumn("number", [Float32Array.from(places)]),
    };
    return { shape: { ...shape, curves: { ...cut, curves: withColumns(cut.curves, columns) } } };
  },
});
