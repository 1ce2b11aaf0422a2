/** Which way a mesh looks at its corners. */
import { tick } from "../cancelling";
import { makeColumn, makeLanes, withColumns } from "../geometry/column";
import type { Mesh } from "../geometry/mesh";
import { cornerAngles, faceNormals } from "../geometry/normals";
import { topologyOf } from "../geometry/topology";
import { lengthOf } from "../maths/exact";
import { edgeAngles } from "./edge-angles";

/**
 * The same with `normal` on its corners: the mean of the faces around the point that go over into each other without a sharp edge, by
 * their angles there (G. Thürmer and C. Wüthrich, 1998). They hold until points are moved.
 * @param sharp radians from which on an edge is sharp; 0 for each face by itself
 */
export function withFacings(mesh: Mesh, sharp: number): Mesh {
  const topology = topologyOf(mesh);
  const faces = faceNormals(mesh);
  const share = cornerAngles(mesh, faces);
  const bends = edgeAngles(mesh);
  const lanes = makeLanes("vector", mesh.corners.count);
  const isOver = (corner: number) =>
    topology.across[corner] >= 0 && sharp > 0 && Math.abs(bends[topology.edges.ofCorner[corner]]) <= sharp;
  for (let c = 0; c < mesh.corners.count; c++) {
    tick(6);
    const sum = [0, 0, 0];
    const add = (corner: number) => {
      const f = topology.faceOfCorner[corner];
      for (let a = 0; a < 3; a++) sum[a] += faces[a][f] * share[corner];
    };
    add(c);
    // One way round the point until an edge is sharp or it comes back, then the other way.
    let at = c;
    let isRound = false;
    while (isOver(topology.before(at))) {
      at = topology.across[topology.before(at)];
      isRound = at === c;
      if (isRound) break;
      add(at);
    }
    for (at = c; !isRound && isOver(at); ) {
      at = topology.after(topology.across[at]);
      add(at);
    }
    const size = lengthOf(sum[0], sum[1], sum[2]) || 1;
    for (let a = 0; a < 3; a++) lanes[a][c] = sum[a] / size;
  }
  return { ...mesh, corners: withColumns(mesh.corners, { normal: makeColumn("vector", lanes) }) };
}
