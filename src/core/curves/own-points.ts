/** Curves by their own points: in another order, fewer of them, or in other places. */
import { withColumns } from "../geometry/column";
import { type Curves, isClosedCurve, makeCurves } from "../geometry/curves";
import { type Sample, type SampledCurve, sampledCurves } from "./sampled-curves";

export const own = (p: number): Sample => ({ p, q: p, t: 0 });

/** Some or all points of curve k, in the given order. */
export const ofPoints = (curves: Curves, k: number, points: Iterable<number>): SampledCurve => ({
  of: k,
  closed: isClosedCurve(curves, k),
  samples: Array.from(points, own),
});

/** The same curves with their points elsewhere; `along` is worked out anew. */
export function movedCurves(curves: Curves, lanes: readonly Float32Array[]): Curves {
  const [x, y, z] = lanes;
  const { points } = makeCurves({
    position: [x, y, z],
    curveStarts: curves.curveStarts,
    closed: closedLane(curves),
  });
  const { position, along } = points.columns;
  return { ...curves, points: withColumns(curves.points, { position, along }) };
}

const closedLane = (curves: Curves): Int32Array =>
  Int32Array.from({ length: curves.curves.count }, (_, k) => (isClosedCurve(curves, k) ? 1 : 0));

/** Each curve the other way round; closed ones from the same point on. @param chosen by curve, 1 for those */
export function reversed(curves: Curves, chosen: ArrayLike<number>): Curves {
  return sampledCurves(
    curves,
    Array.from({ length: curves.curves.count }, (_, k) => {
      const points = numbersOf(curves, k);
      if (!(chosen[k] > 0.5)) return ofPoints(curves, k, points);
      const back = points.reverse();
      return ofPoints(
        curves,
        k,
        isClosedCurve(curves, k) ? [back[back.length - 1], ...back.slice(0, -1)] : back,
      );
    }),
  );
}

export const numbersOf = ({ curveStarts }: Curves, k: number): number[] =>
  Array.from({ length: curveStarts[k + 1] - curveStarts[k] }, (_, i) => curveStarts[k] + i);
