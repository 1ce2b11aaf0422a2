/** Curves between two others. */
import { type Curves, isClosedCurve } from "../geometry/curves";
import { AlongCurves } from "./along-curves";
import { evenSamples } from "./even-samples";
import { movedCurves } from "./own-points";
import { sampledCurves } from "./sampled-curves";

/**
 * Curve by curve from the first to the other; both are given as many points, by length. Where one has more curves, its others go to
 * the last one of the other. Open when either is.
 * @param amount by curve of the one with more: 0 the first, 1 the other
 */
export function blended(first: Curves, other: Curves, amount: (k: number) => number): Curves {
  const count = Math.max(first.curves.count, other.curves.count);
  const [alongFirst, alongOther] = [new AlongCurves(first), new AlongCurves(other)];
  const pairs = Array.from({ length: count }, (_, k) => {
    const [i, j] = [Math.min(k, first.curves.count - 1), Math.min(k, other.curves.count - 1)];
    const closed = isClosedCurve(first, i) && isClosedCurve(other, j);
    const points = Math.max(size(first, i), size(other, j));
    return {
      closed,
      from: { of: i, closed, samples: evenSamples(first, alongFirst, i, points).slice(0, points) },
      to: { of: j, closed, samples: evenSamples(other, alongOther, j, points).slice(0, points) },
    };
  });
  const from = sampledCurves(
    first,
    pairs.map((pair) => pair.from),
  );
  const to = sampledCurves(
    other,
    pairs.map((pair) => pair.to),
  );
  const lanes = from.points.columns.position.lanes.map((lane, a) => {
    const out = Float32Array.from(lane);
    for (let k = 0; k < count; k++)
      for (let p = from.curveStarts[k]; p < from.curveStarts[k + 1]; p++)
        out[p] += (to.points.columns.position.lanes[a][p] - out[p]) * amount(k);
    return out;
  });
  return movedCurves(from, lanes);
}

const size = ({ curveStarts }: Curves, k: number): number => curveStarts[k + 1] - curveStarts[k];
