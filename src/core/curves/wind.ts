/** Curves that wind around others. */
import { type Curves, curveTangents, isClosedCurve } from "../geometry/curves";
import { steadyNormals } from "../geometry/frames";
import { cosine, sine } from "../maths/exact";
import { cross, type Vec3 } from "../maths/vector";
import { movedCurves } from "./own-points";

/** Round and round, to one side and the other, or up and down. */
export const WINDINGS = ["spiral", "wave to the sides", "wave up and down"] as const;
export type Winding = (typeof WINDINGS)[number];

/**
 * The curves' own points moved off by turns about their frames that do not twist.
 * @param radius units, by point
 * @param turns over the whole length, whole ones close closed curves
 * @param phase turns at the beginning
 */
export function wound(
  curves: Curves,
  how: Winding,
  radius: ArrayLike<number>,
  turns: number,
  phase: number,
): Curves {
  const lanes = curves.points.columns.position.lanes as readonly Float32Array[];
  const tangents = curveTangents(curves);
  const along = curves.points.columns.along?.lanes[0];
  const moved = lanes.map((lane) => Float32Array.from(lane));
  for (let k = 0; k < curves.curves.count; k++) {
    const [first, end] = [curves.curveStarts[k], curves.curveStarts[k + 1]];
    const closed = isClosedCurve(curves, k) && end - first > 2;
    const normals = steadyNormals(lanes, tangents, first, end, closed, [0, 1, 0]);
    for (let p = first; p < end; p++) {
      const normal = normals.map((lane) => lane[p - first]) as unknown as Vec3;
      const side = cross(tangents.map((lane) => lane[p]) as unknown as Vec3, normal);
      const angle = 2 * Math.PI * ((along?.[p] ?? 0) * turns + phase);
      const [c, s] = [cosine(angle), sine(angle)];
      const [up, out] = how === "spiral" ? [c, s] : how === "wave to the sides" ? [0, s] : [s, 0];
      for (let a = 0; a < 3; a++) moved[a][p] += (normal[a] * up + side[a] * out) * radius[p];
    }
  }
  return movedCurves(curves, moved);
}
