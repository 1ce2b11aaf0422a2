import { AlongCurves } from "../../../curves/along-curves";
import { type Sample, type SampledCurve, sampledCurves } from "../../../curves/sampled-curves";
import type { Curves } from "../../../geometry/curves";
import { defineNode } from "../../define";
import { field, out, shape } from "../../ports";

export const partOfPath = defineNode({
  type: "part-of-path",
  family: "form",
  title: "Part of path",
  about: "A part of every curve, from one place of its length to another: lines that draw themselves.",
  synonyms: ["draw on", "reveal line", "trim curve", "cut", "grow line", "write on", "start end"],
  inputs: {
    shape: shape({ about: "Curves." }),
    from: field.number({
      default: 0,
      soft: [0, 1],
      about: "Where it begins, as a part of each curve's length.",
    }),
    to: field.number({
      default: 1,
      soft: [0, 1],
      about: "Where it ends; what ends before it begins is left out.",
    }),
    shift: field.number({
      default: 0,
      soft: [0, 1],
      about: "Moves both along; round and round a closed curve, until the ends of an open one.",
    }),
  },
  outputs: { shape: out.shape("What is left of the curves; a part of a closed one is open.") },
  evaluate({ shape, from, to, shift }, context) {
    const { curves } = shape;
    if (!curves || curves.points.count === 0) {
      context.warn("No curves arrive, so there is nothing to trim.", { input: "shape" });
      return { shape };
    }
    const along = new AlongCurves(curves);
    const [begins, ends, shifts] = context.run([from, to, shift], curves.curves);
    const made: SampledCurve[] = [];
    for (let k = 0; k < along.count; k++) {
      const part = partOf(curves, along, k, begins[k] + shifts[k], ends[k] + shifts[k]);
      if (part) made.push(part);
    }
    return { shape: { ...shape, curves: sampledCurves(curves, made) } };
  },
});

/** All of a length, but for what float32 rounds away of two fields. */
const ALL = 1 - 1e-6;

function partOf(
  curves: Curves,
  along: AlongCurves,
  k: number,
  from: number,
  to: number,
): SampledCurve | null {
  const [first, end] = [curves.curveStarts[k], curves.curveStarts[k + 1]];
  const closed = along.isRound(k);
  const own = Array.from({ length: end - first }, (_, i): Sample => ({ p: first + i, q: first + i, t: 0 }));
  if (closed && to - from >= ALL) return { of: k, closed: true, samples: own };
  const [a, b] = closed ? [from, to] : [Math.max(0, from), Math.min(1, to)];
  if (!(b > a) || along.lengths[k] === 0) return null;
  const parts = along.partsOfPoints(k);
  // Points on the way, round after round of a closed curve.
  const samples: Sample[] = [along.at(k, a)];
  const rounds = closed ? Math.ceil(b) : 1;
  for (let round = closed ? Math.floor(a) : 0; round < rounds; round++)
    for (const [i, part] of parts.entries()) if (part + round > a && part + round < b) samples.push(own[i]);
  samples.push(along.at(k, b));
  return { of: k, closed: false, samples };
}
