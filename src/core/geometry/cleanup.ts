/** Mending of imported meshes: points that lie together become one, faces are turned round. */
import { tick } from "../cancelling";
import { HashGrid } from "../spatial/hash-grid";
import { reachOf } from "../spatial/reach";
import { type Column, makeColumn, makeLanes } from "./column";
import { type Mesh, pointLanes } from "./mesh";
import { partsOf } from "./subset";
import { turnedRound } from "./transform-matrix";

/**
 * Points no further from each other than `distance` (units) become the first of them; corners that meet by this are
 * dropped, and so are faces left with fewer than three and points left without a face.
 */
export function mergeNearPoints(mesh: Mesh, distance: number, where?: ArrayLike<number>): Mesh {
  const { firstOf, changed } = nearestEarlier(mesh, distance, where);
  if (!changed) return mesh;
  const corners: number[] = [];
  const starts = [0];
  const faces: number[] = [];
  for (let f = 0; f < mesh.faces.count; f++) {
    const kept: number[] = [];
    const end = mesh.faceStarts[f + 1];
    for (let c = mesh.faceStarts[f]; c < end; c++) {
      const before = kept.length > 0 ? kept[kept.length - 1] : end - 1;
      if (firstOf[mesh.cornerPoint[c]] !== firstOf[mesh.cornerPoint[before]]) kept.push(c);
    }
    if (kept.length < 3) continue;
    corners.push(...kept);
    starts.push(corners.length);
    faces.push(f);
  }
  const renumbered = new Int32Array(mesh.points.count).fill(-1);
  const points: number[] = [];
  const cornerPoint = Int32Array.from(corners, (c) => {
    const p = firstOf[mesh.cornerPoint[c]];
    if (renumbered[p] < 0) renumbered[p] = points.push(p) - 1;
    return renumbered[p];
  });
  return partsOf(mesh, {
    points: Int32Array.from(points),
    corners: Int32Array.from(corners),
    faces: Int32Array.from(faces),
    faceStarts: Int32Array.from(starts),
    cornerPoint,
  });
}

/** For each point the first one near it that is not itself merged. @param where by point, above 0.5 for those that may be merged */
function nearestEarlier(mesh: Mesh, distance: number, where?: ArrayLike<number>) {
  const isIn = (p: number) => !where || where[p] > 0.5;
  const [x, y, z] = pointLanes(mesh);
  const firstOf = new Int32Array(mesh.points.count);
  const reach = reachOf(distance, [x, y, z]);
  const grid = new HashGrid([x, y, z], reach);
  let changed = false;
  for (let p = 0; p < mesh.points.count; p++) {
    tick(8);
    firstOf[p] = p;
    if (!isIn(p)) continue;
    grid.within(x[p], y[p], z[p], reach, (q) => {
      if (q < firstOf[p] && firstOf[q] === q && isIn(q)) firstOf[p] = q;
      return undefined;
    });
    if (firstOf[p] !== p) changed = true;
  }
  return { firstOf, changed };
}

/** All faces turned round, normals too. */
export function flipped(mesh: Mesh): Mesh {
  const turned = turnedRound(mesh);
  const { normal } = turned.corners.columns;
  if (!normal) return turned;
  const lanes = makeLanes("vector", mesh.corners.count);
  lanes.forEach((lane, l) => {
    for (let c = 0; c < lane.length; c++) lane[c] = -normal.lanes[l][c];
  });
  const columns: Record<string, Column> = { ...turned.corners.columns, normal: makeColumn("vector", lanes) };
  return { ...turned, corners: { count: turned.corners.count, columns } };
}

/** Without normals of its own, so that they are worked out anew from the faces. */
export function withoutNormals(mesh: Mesh): Mesh {
  const { normal: _dropped, ...columns } = mesh.corners.columns;
  return { ...mesh, corners: { count: mesh.corners.count, columns } };
}
