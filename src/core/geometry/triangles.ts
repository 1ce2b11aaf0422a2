/** Polygons cut into triangles: the one place where faces of more than three corners are taken apart. */

import earcut from "earcut";
import { tick } from "../cancelling";
import { lengthOf } from "../maths/exact";
import { faceAreaVectors, type Mesh, pointLanes } from "./mesh";

/**
 * Three corner numbers a triangle, faces in order, each counter-clockwise as its face; faces may be concave. A face of n
 * corners gives n − 2 triangles unless some have no area.
 */
export function triangleCorners(mesh: Mesh): Int32Array {
  const out: number[] = [];
  const lanes = pointLanes(mesh);
  const normals = faceAreaVectors(mesh);
  for (let f = 0; f < mesh.faces.count; f++) {
    tick();
    const start = mesh.faceStarts[f];
    const size = mesh.faceStarts[f + 1] - start;
    if (size === 3) out.push(start, start + 1, start + 2);
    if (size <= 3) continue;
    const points = mesh.cornerPoint.subarray(start, start + size);
    for (const corner of cutPolygon(points, lanes, [normals[0][f], normals[1][f], normals[2][f]]))
      out.push(start + corner);
  }
  return Int32Array.from(out);
}

/**
 * Corners of the triangles of one polygon, three a triangle, as numbers within the polygon. Four corners are cut where both
 * halves look the polygon's way, more by ear clipping.
 * @param points the polygon's points in order, at least three
 * @param lanes x, y and z of all points
 * @param normal which way it looks, any length (see `areaVector`)
 */
export function cutPolygon(
  points: ArrayLike<number>,
  lanes: readonly ArrayLike<number>[],
  normal: readonly number[],
): readonly number[] {
  if (points.length === 3) return [0, 1, 2];
  const [nx, ny, nz] = normal.map(Math.abs);
  // Seen along the axis that it looks along most, turned so that it stays counter-clockwise.
  const axis = nx > ny && nx > nz ? 0 : ny > nz ? 1 : 2;
  const [u, v] = [lanes[(axis + 1) % 3], lanes[(axis + 2) % 3]];
  const flip = normal[axis] < 0 ? -1 : 1;
  if (points.length === 4) {
    const turns = (a: number, b: number, c: number): boolean => {
      const [p, q, r] = [points[a], points[b], points[c]];
      return flip * ((u[q] - u[p]) * (v[r] - v[p]) - (v[q] - v[p]) * (u[r] - u[p])) > 0;
    };
    const other = !(turns(0, 1, 2) && turns(0, 2, 3)) && turns(0, 1, 3) && turns(1, 2, 3);
    return other ? [0, 1, 3, 1, 2, 3] : [0, 1, 2, 0, 2, 3];
  }
  const flat: number[] = [];
  for (let k = 0; k < points.length; k++) flat.push(u[points[k]] * flip, v[points[k]]);
  return earcut(flat);
}

/** Square units. @param lanes x, y and z of all points */
export function triangleArea(
  [x, y, z]: readonly ArrayLike<number>[],
  a: number,
  b: number,
  c: number,
): number {
  const [ux, uy, uz] = [x[b] - x[a], y[b] - y[a], z[b] - z[a]];
  const [vx, vy, vz] = [x[c] - x[a], y[c] - y[a], z[c] - z[a]];
  return lengthOf(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
}
