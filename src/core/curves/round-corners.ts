/** Corners of curves made round. */
import { tick } from "../cancelling";
import { type Curves, isClosedCurve } from "../geometry/curves";
import { arcCosine, lengthOf, sine, tangent } from "../maths/exact";
import { dot, minus, plus, type Vec3 } from "../maths/vector";
import { movedCurves, numbersOf, own } from "./own-points";
import { type Sample, type SampledCurve, sampledCurves } from "./sampled-curves";

/** Turns less than this are no corners, and such that turn back have no arc. Radians. */
const [LEAST, MOST] = [1e-3, Math.PI - 1e-3];

/**
 * An arc in place of every corner, as large as its two pieces have room for: each piece is shared by the corners at both of its ends.
 * @param radius units, by point
 * @param steps pieces of an arc of 90°, more for larger ones
 */
export function roundedCorners(curves: Curves, radius: ArrayLike<number>, steps: number): Curves {
  const lanes = curves.points.columns.position.lanes;
  const at = (p: number): Vec3 => [lanes[0][p], lanes[1][p], lanes[2][p]];
  const places: Vec3[] = [];
  const made = Array.from({ length: curves.curves.count }, (_, k): SampledCurve => {
    const points = numbersOf(curves, k);
    const closed = isClosedCurve(curves, k) && points.length > 2;
    const samples: Sample[] = [];
    for (const [i, p] of points.entries()) {
      const isEnd = !closed && (i === 0 || i === points.length - 1);
      const a = points[(i + points.length - 1) % points.length];
      const b = points[(i + 1) % points.length];
      const arc = isEnd ? null : arcAt(at(a), at(p), at(b), radius[p], steps);
      tick(arc ? arc.places.length : 1);
      if (!arc) {
        samples.push(own(p));
        places.push(at(p));
        continue;
      }
      for (const [s, place] of arc.places.entries()) {
        const part = arc.places.length > 1 ? (2 * s) / (arc.places.length - 1) - 1 : 0;
        samples.push(part < 0 ? { p, q: a, t: -part * arc.before } : { p, q: b, t: part * arc.after });
        places.push(place);
      }
    }
    return { of: k, closed: isClosedCurve(curves, k), samples };
  });
  const lane = (axis: number) => Float32Array.from(places, (place) => place[axis]);
  return movedCurves(sampledCurves(curves, made), [lane(0), lane(1), lane(2)]);
}

interface CornerArc {
  readonly places: readonly Vec3[];
  /** Which parts of the pieces before and after it takes up. */
  readonly before: number;
  readonly after: number;
}

/** The arc that touches both pieces at a corner; null where there is no corner or no radius. */
function arcAt(a: Vec3, corner: Vec3, b: Vec3, radius: number, steps: number): CornerArc | null {
  const [back, forth] = [minus(a, corner), minus(b, corner)];
  const [before, after] = [lengthOf(...back), lengthOf(...forth)];
  if (before === 0 || after === 0 || !(radius > 0)) return null;
  const cosine = dot(back, forth) / (before * after);
  const turn = Math.PI - arcCosine(Math.min(1, Math.max(-1, cosine)));
  if (turn < LEAST || turn > MOST) return null;
  const wanted = radius * tangent(turn / 2);
  const taken = Math.min(wanted, before / 2, after / 2);
  const [from, to] = [plus(corner, back, taken / before), plus(corner, forth, taken / after)];
  const size = taken / tangent(turn / 2);
  // The middle lies on the line that halves the corner.
  const half = plus(scaled(back, 1 / before), forth, 1 / after);
  const middle = plus(corner, scaled(half, 1 / lengthOf(...half)), lengthOf(size, taken, 0));
  const [u, v] = [minus(from, middle), minus(to, middle)];
  const pieces = Math.max(1, Math.ceil((steps * turn) / (Math.PI / 2)));
  const places = Array.from({ length: pieces + 1 }, (_, s) => {
    const [x, y] = [sine(turn * (1 - s / pieces)) / sine(turn), sine((turn * s) / pieces) / sine(turn)];
    return plus(plus(middle, u, x), v, y);
  });
  return { places, before: taken / before, after: taken / after };
}

const scaled = (a: Vec3, t: number): Vec3 => [a[0] * t, a[1] * t, a[2] * t];
