/**
 * Curves whose points have handles: the vectors `handleBefore` and `handleAfter`, from the point on. Between two points of which either has one
 * runs a cubic Bézier. Nodes that only place points keep them; to all others, and to the stage, curves come bent.
 */
import { tick } from "../cancelling";
import { type Domain, withColumns } from "../geometry/column";
import { type Curves, HANDLES, isClosedCurve, makeCurves } from "../geometry/curves";
import type { Shape } from "../geometry/shape";
import { type Sample, type SampledCurve, sampledCurves } from "./sampled-curves";

/** Straight pieces of a Bézier. */
const STEPS = 24;

export const hasHandles = ({ columns }: Domain): boolean =>
  HANDLES.some((name) => columns[name]?.kind === "vector");

/** The shape with its curves, and those of its sources, as straight pieces where points have handles. */
export function bentShape(shape: Shape): Shape {
  const sources = shape.sources?.map(bentShape);
  const isSame = !sources?.some((source, s) => source !== shape.sources?.[s]);
  const bends = shape.curves && hasHandles(shape.curves.points);
  if (isSame && !bends) return shape;
  return {
    ...shape,
    ...(shape.curves && bends ? { curves: bentCurves(shape.curves) } : {}),
    ...(sources && !isSame ? { sources } : {}),
  };
}

/** Without handles: so many straight pieces for each that is bent, one for others. What points carry is mixed. */
export function bentCurves(curves: Curves): Curves {
  const { points, curveStarts } = curves;
  const [before, after] = HANDLES.map((name) => points.columns[name]?.lanes);
  const isBent = (p: number, q: number) =>
    (after?.some((lane) => lane[p] !== 0) || before?.some((lane) => lane[q] !== 0)) ?? false;
  const made: SampledCurve[] = Array.from({ length: curves.curves.count }, (_, k) => {
    const closed = isClosedCurve(curves, k);
    const [first, end] = [curveStarts[k], curveStarts[k + 1]];
    const spans = end - first - (closed ? 0 : 1);
    const samples: Sample[] = [];
    for (let s = 0; s < spans; s++) {
      const [p, q] = [first + s, s + 1 < end - first ? first + s + 1 : first];
      const count = isBent(p, q) ? STEPS : 1;
      for (let i = 0; i < count; i++) samples.push({ p, q, t: i / count });
    }
    if (!closed && end > first) samples.push({ p: end - 1, q: end - 1, t: 0 });
    tick(samples.length);
    return { of: k, closed, samples };
  });
  const sampled = sampledCurves(curves, made);
  const { handleBefore: _b, handleAfter: _a, ...columns } = sampled.points.columns;
  const position = points.columns.position.lanes.map((lane, a) => {
    const out = new Float32Array(sampled.points.count);
    let at = 0;
    // On the cubic Bézier from one point to the next (P. de Casteljau).
    for (const { samples } of made)
      for (const { p, q, t } of samples) {
        const s = 1 - t;
        const [from, to] = [lane[p] + (after?.[a][p] ?? 0), lane[q] + (before?.[a][q] ?? 0)];
        out[at++] = s * s * s * lane[p] + 3 * s * s * t * from + 3 * s * t * t * to + t * t * t * lane[q];
      }
    return out;
  }) as [Float32Array, Float32Array, Float32Array];
  const placed = makeCurves({
    position,
    curveStarts: sampled.curveStarts,
    closed: sampled.curves.columns.closed.lanes[0] as Int32Array,
  });
  return {
    ...sampled,
    points: withColumns({ count: sampled.points.count, columns }, placed.points.columns),
  };
}
