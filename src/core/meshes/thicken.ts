/** Sheets given a thickness. */
import { tick } from "../cancelling";
import { concatenate, type Domain, makeColumn, makeLanes, withColumns } from "../geometry/column";
import type { Mesh } from "../geometry/mesh";
import { faceNormals, pointNormals } from "../geometry/normals";
import { topologyOf } from "../geometry/topology";
import { FaceWriter, wall } from "./joined-faces";

/** Longest way of a point along its facing, times the thickness: sharp edges are cut short. */
export const MOST_MITRE = 4;

/** For each point by how much to follow its facing so that its faces move by 1, on average. */
function mitres(mesh: Mesh, normals: readonly Float32Array[]): Float32Array {
  const faces = faceNormals(mesh);
  const topology = topologyOf(mesh);
  const { starts, items } = topology.cornersOfPoints;
  const times = new Float32Array(mesh.points.count).fill(1);
  for (let p = 0; p < times.length; p++) {
    tick(4);
    let sum = 0;
    for (let k = starts[p]; k < starts[p + 1]; k++) {
      const f = topology.faceOfCorner[items[k]];
      for (let a = 0; a < 3; a++) sum += faces[a][f] * normals[a][p];
    }
    const mean = sum / Math.max(1, starts[p + 1] - starts[p]);
    times[p] = 1 / Math.max(1 / MOST_MITRE, mean);
  }
  return times;
}

/** Points moved along directions, each by its own amount. */
function shifted(points: Domain, directions: readonly Float32Array[], amount: (p: number) => number): Domain {
  const lanes = makeLanes("vector", points.count);
  for (const [a, lane] of lanes.entries())
    for (let p = 0; p < lane.length; p++) {
      tick(0.25);
      lane[p] = points.columns.position.lanes[a][p] + directions[a][p] * amount(p);
    }
  return withColumns(points, { position: makeColumn("vector", lanes) });
}

/**
 * A second sheet behind the first, and a rim along open borders. Faces have `side`: 0 the front, 1 the rim, 2 the back.
 * @param thickness units, by point
 * @param front how much of it lies in front: 0 none, 1 all
 */
export function thickened(mesh: Mesh, thickness: Float32Array, front: number): Mesh {
  const normals = pointNormals(mesh);
  const times = mitres(mesh, normals);
  const ahead = shifted(mesh.points, normals, (p) => thickness[p] * times[p] * front);
  const behind = shifted(mesh.points, normals, (p) => thickness[p] * times[p] * (front - 1));
  const { count } = mesh.points;
  const topology = topologyOf(mesh);
  const faces = new FaceWriter(mesh);
  for (let f = 0; f < mesh.faces.count; f++) faces.whole(f, (c) => mesh.cornerPoint[c], 0);
  for (let f = 0; f < mesh.faces.count; f++) faces.whole(f, (c) => mesh.cornerPoint[c] + count, 2, true);
  for (let c = 0; c < mesh.corners.count; c++) {
    if (topology.across[c] >= 0) continue;
    wall(
      faces,
      topology.faceOfCorner[c],
      [c, topology.after(c)],
      (corner) => mesh.cornerPoint[corner],
      (corner) => mesh.cornerPoint[corner] + count,
    );
  }
  return faces.mesh(concatenate([ahead, behind]), true);
}
