/** Flat strips along curves. */
import { tick } from "../cancelling";
import { partsOfLength } from "../curves/parts-of-length";
import { gather } from "../geometry/column";
import { type Curves, curveTangents, isClosedCurve } from "../geometry/curves";
import { type Mesh, makeMesh } from "../geometry/mesh";
import { lengthOf } from "../maths/exact";
import { anyAcross, cross, dot, normalise, type Vec3 } from "../maths/vector";
import { FacesOfRows } from "./rows";
import { withoutPath } from "./without-path";

/**
 * Two points at each of a curve's, beside it; null without a curve of two points. Laid out for pictures along each curve and across.
 * @param width units at each point; times its `radius`, where it has one
 * @param facing which way the strip looks at each point, as far as the curve lets it
 */
export function ribbons(
  curves: Curves,
  width: ArrayLike<number>,
  facing: readonly ArrayLike<number>[],
): Mesh | null {
  const kept = Array.from({ length: curves.curves.count }, (_, k) => k).filter(
    (k) => curves.curveStarts[k + 1] - curves.curveStarts[k] > 1,
  );
  const total = kept.reduce((sum, k) => sum + curves.curveStarts[k + 1] - curves.curveStarts[k], 0);
  if (total === 0) return null;
  const { lanes } = curves.points.columns.position;
  const radius = curves.points.columns.radius?.lanes[0];
  const tangents = curveTangents(curves);
  const position = [0, 1, 2].map(() => new Float32Array(total * 2));
  const origin = new Int32Array(total * 2);
  const faces = new FacesOfRows();
  let row = 0;
  for (const k of kept) {
    const first = curves.curveStarts[k];
    const count = curves.curveStarts[k + 1] - first;
    const closed = isClosedCurve(curves, k) && count > 2;
    const base = row * 2;
    for (let i = 0; i < count; i++, row++) {
      tick(4);
      const p = first + i;
      const along: Vec3 = [tangents[0][p], tangents[1][p], tangents[2][p]];
      const look: Vec3 = [facing[0][p], facing[1][p], facing[2][p]];
      // Straight towards where it should look there is no side; any will do.
      const side = cross(along, look);
      const across = dot(side, side) > 1e-12 ? normalise(side) : anyAcross(normalise(along));
      const half = (width[p] * (radius?.[p] ?? 1)) / 2;
      for (let s = 0; s < 2; s++)
        for (let a = 0; a < 3; a++)
          position[a][2 * row + s] = lanes[a][p] + across[a] * half * (s === 0 ? -1 : 1);
      origin[2 * row] = origin[2 * row + 1] = p;
    }
    const u = partsOfLength(count, closed, (i, j) =>
      lengthOf(...(lanes.map((lane) => lane[first + j] - lane[first + i]) as [number, number, number])),
    );
    faces.add({
      rows: count,
      size: 2,
      around: false,
      along: closed,
      u,
      v: [1, 0],
      at: (i, j) => base + 2 * i + j,
    });
  }
  return makeMesh({
    position: [position[0], position[1], position[2]],
    ...faces.parts,
    pointColumns: gather(withoutPath(curves.points), origin).columns,
  });
}
