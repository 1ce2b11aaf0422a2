/** Curves of fewer points. */
import { tick } from "../cancelling";
import { type Curves, isClosedCurve } from "../geometry/curves";
import { lengthOf } from "../maths/exact";
import { numbersOf, ofPoints } from "./own-points";
import { sampledCurves } from "./sampled-curves";

type Lanes = readonly ArrayLike<number>[];

/**
 * Without the points that lie nearer than a distance to the line between those that stay (U. Ramer, 1972; D. Douglas and T. Peucker,
 * 1973). A closed curve is cut at its first point and at the one furthest from it.
 * @param distance units
 */
export function simplified(curves: Curves, distance: number): Curves {
  const lanes = curves.points.columns.position.lanes;
  return sampledCurves(
    curves,
    Array.from({ length: curves.curves.count }, (_, k) => {
      const points = numbersOf(curves, k);
      if (points.length < 3) return ofPoints(curves, k, points);
      if (!isClosedCurve(curves, k)) return ofPoints(curves, k, kept(points, lanes, distance));
      const far = furthest(points, lanes);
      const [there, back] = [points.slice(0, far + 1), [...points.slice(far), points[0]]];
      const round = [
        ...kept(there, lanes, distance).slice(0, -1),
        ...kept(back, lanes, distance).slice(0, -1),
      ];
      // Two points are no closed curve: one more stays.
      return ofPoints(curves, k, round.length > 2 ? round : points.slice(0, 3));
    }),
  );
}

/** The number of the point furthest from the first. */
function furthest(points: readonly number[], lanes: Lanes): number {
  const away = points.map((p) => distanceOf(lanes, p, points[0]));
  return away.indexOf(Math.max(...away));
}

const distanceOf = (lanes: Lanes, p: number, q: number): number =>
  lengthOf(lanes[0][p] - lanes[0][q], lanes[1][p] - lanes[1][q], lanes[2][p] - lanes[2][q]);

function kept(points: readonly number[], lanes: Lanes, distance: number): number[] {
  const stays = new Uint8Array(points.length);
  stays[0] = 1;
  stays[points.length - 1] = 1;
  const left: [number, number][] = [[0, points.length - 1]];
  for (let span = left.pop(); span; span = left.pop()) {
    const [from, to] = span;
    let [most, at] = [distance, -1];
    tick(to - from);
    for (let i = from + 1; i < to; i++) {
      const off = offLine(lanes, points[i], points[from], points[to]);
      if (off > most) [most, at] = [off, i];
    }
    if (at < 0) continue;
    stays[at] = 1;
    left.push([from, at], [at, to]);
  }
  return points.filter((_, i) => stays[i] === 1);
}

/** Distance of a point from the straight piece between two others. */
function offLine(lanes: Lanes, p: number, a: number, b: number): number {
  const [ux, uy, uz] = lanes.map((lane) => lane[b] - lane[a]);
  const [wx, wy, wz] = lanes.map((lane) => lane[p] - lane[a]);
  const square = ux * ux + uy * uy + uz * uz;
  const t = square > 0 ? Math.min(1, Math.max(0, (wx * ux + wy * uy + wz * uz) / square)) : 0;
  return lengthOf(wx - ux * t, wy - uy * t, wz - uz * t);
}
