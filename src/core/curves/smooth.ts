/** Curves evened out. */
import { tick } from "../cancelling";
import { type Curves, isClosedCurve } from "../geometry/curves";
import { movedCurves, numbersOf, own } from "./own-points";
import { type Sample, sampledCurves } from "./sampled-curves";

/** Points go between their neighbours, or corners are cut off (G. Chaikin, 1974), which makes twice as many points. */
export const CURVE_SMOOTHINGS = ["between neighbours", "corners cut"] as const;
export type CurveSmoothing = (typeof CURVE_SMOOTHINGS)[number];

/** Each point a part of the way towards the middle of its neighbours; ends stay. @param amount by point, 0 … 1 */
export function evenedOut(curves: Curves, rounds: number, amount: ArrayLike<number>): Curves {
  let lanes = curves.points.columns.position.lanes as readonly Float32Array[];
  for (let round = 0; round < rounds; round++)
    lanes = lanes.map((lane) => {
      const out = Float32Array.from(lane);
      for (let k = 0; k < curves.curves.count; k++) {
        const [first, end] = [curves.curveStarts[k], curves.curveStarts[k + 1]];
        const closed = isClosedCurve(curves, k) && end - first > 2;
        tick((end - first) / 4);
        for (let p = closed ? first : first + 1; p < (closed ? end : end - 1); p++) {
          const [a, b] = [p > first ? p - 1 : end - 1, p + 1 < end ? p + 1 : first];
          out[p] = lane[p] + ((lane[a] + lane[b]) / 2 - lane[p]) * amount[p];
        }
      }
      return out;
    });
  return movedCurves(curves, lanes);
}

/** Two points on each piece, a quarter of it from either end; the ends of open curves stay. */
export function cornersCut(curves: Curves, rounds: number): Curves {
  let made = curves;
  for (let round = 0; round < rounds; round++) made = cutOnce(made);
  return made;
}

function cutOnce(curves: Curves): Curves {
  return sampledCurves(
    curves,
    Array.from({ length: curves.curves.count }, (_, k) => {
      const points = numbersOf(curves, k);
      const closed = isClosedCurve(curves, k);
      if (points.length < 3) return { of: k, closed, samples: points.map(own) };
      const samples: Sample[] = closed ? [] : [own(points[0])];
      for (let i = 0; i < (closed ? points.length : points.length - 1); i++) {
        const [p, q] = [points[i], points[(i + 1) % points.length]];
        tick();
        if (closed || i > 0) samples.push({ p, q, t: 0.25 });
        if (closed || i + 2 < points.length) samples.push({ p, q, t: 0.75 });
      }
      if (!closed) samples.push(own(points[points.length - 1]));
      return { of: k, closed, samples };
    }),
  );
}
