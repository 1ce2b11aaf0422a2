/** How far a mesh bends at its edges. */
import { tick } from "../cancelling";
import type { Mesh } from "../geometry/mesh";
import { pointLanes } from "../geometry/mesh";
import { faceNormals } from "../geometry/normals";
import { topologyOf } from "../geometry/topology";
import { arcTangent2, lengthOf } from "../maths/exact";

/**
 * The angle between the facings of the two faces at every edge, radians: 0 where it is flat, less than 0 where it is hollow, up to π;
 * 0 at borders.
 */
export function edgeAngles(mesh: Mesh): Float32Array {
  const topology = topologyOf(mesh);
  const { corners, count } = topology.edges;
  const normals = faceNormals(mesh);
  const [x, y, z] = pointLanes(mesh);
  const angles = new Float32Array(count);
  for (let e = 0; e < count; e++) {
    tick(4);
    const other = topology.across[corners[2 * e]];
    if (other < 0) continue;
    const [f, g] = [topology.faceOfCorner[corners[2 * e]], topology.faceOfCorner[other]];
    const [p, q] = [topology.pointOfEdge(e, 0), topology.pointOfEdge(e, 1)];
    const [ax, ay, az] = normals.map((lane) => lane[f]);
    const [bx, by, bz] = normals.map((lane) => lane[g]);
    const [ex, ey, ez] = [x[q] - x[p], y[q] - y[p], z[q] - z[p]];
    const length = lengthOf(ex, ey, ez) || 1;
    const sine = ((ay * bz - az * by) * ex + (az * bx - ax * bz) * ey + (ax * by - ay * bx) * ez) / length;
    angles[e] = arcTangent2(sine, ax * bx + ay * by + az * bz);
  }
  return angles;
}
