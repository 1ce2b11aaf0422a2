/** What curves are like at each of their points. */
import { tick } from "../cancelling";
import { type Curves, curveLengths, isClosedCurve } from "../geometry/curves";
import { arcTangent2, lengthOf } from "../maths/exact";
import { cross, dot, minus, normalise, type Vec3 } from "../maths/vector";

export const CURVE_MEASURES = ["length so far", "whole length", "curvature", "torsion", "turn"] as const;
export type CurveMeasure = (typeof CURVE_MEASURES)[number];

/**
 * By point. Lengths in units; curvature is 1 ÷ the radius of the circle through a point and its neighbours (K. Menger, 1930), torsion the angle
 * between the planes of two such circles for each unit of length, right-handed more than 0, turn the angle between the pieces before
 * and after, radians. The ends of open curves have what is beside them, and no turn.
 */
export function measuredCurves(curves: Curves, what: CurveMeasure): Float32Array {
  const out = new Float32Array(curves.points.count);
  const lengths = curveLengths(curves);
  const along = curves.points.columns.along?.lanes[0];
  for (let k = 0; k < curves.curves.count; k++) {
    const [first, end] = [curves.curveStarts[k], curves.curveStarts[k + 1]];
    const closed = isClosedCurve(curves, k) && end - first > 2;
    tick((end - first) * 4);
    for (let p = first; p < end; p++) {
      if (what === "whole length") out[p] = lengths[k];
      else if (what === "length so far") out[p] = (along?.[p] ?? 0) * lengths[k];
      else out[p] = atPoint(curves, what, [first, end, closed], p);
    }
    if (closed || what === "whole length" || what === "length so far" || end - first < 3) continue;
    const [inner, last] = what === "torsion" ? [2, 1] : [1, 1];
    for (let i = 0; i < inner && what !== "turn"; i++) out[first + i] = out[Math.min(end - 1, first + inner)];
    for (let i = 0; i < last && what !== "turn"; i++) out[end - 1 - i] = out[Math.max(first, end - 1 - last)];
  }
  return out;
}

function atPoint(
  curves: Curves,
  what: CurveMeasure,
  [first, end, closed]: readonly [number, number, boolean],
  p: number,
): number {
  const lanes = curves.points.columns.position.lanes;
  const count = end - first;
  const at = (i: number): Vec3 | null => {
    if (!closed && (i < first || i >= end)) return null;
    const q = first + ((((i - first) % count) + count) % count);
    return [lanes[0][q], lanes[1][q], lanes[2][q]];
  };
  const [z, a, b, c] = [at(p - 2), at(p - 1), at(p) as Vec3, at(p + 1)];
  if (!a || !c) return 0;
  const [before, after] = [minus(b, a), minus(c, b)];
  const across = cross(before, after);
  if (what === "turn") return arcTangent2(lengthOf(...across), dot(before, after));
  const chord = minus(c, a);
  const sides = lengthOf(...before) * lengthOf(...after) * lengthOf(...chord);
  if (what === "curvature") return sides > 0 ? (2 * lengthOf(...across)) / sides : 0;
  if (!z) return 0;
  // Between the planes of the circles through z a b and a b c, over the piece that they share.
  const [n, m] = [normalise(cross(minus(a, z), before)), normalise(across)];
  const length = lengthOf(...before);
  return length > 0 ? arcTangent2(dot(cross(n, m), normalise(before)), dot(n, m)) / length : 0;
}
