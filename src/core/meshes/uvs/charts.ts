/** Parts of a surface that can be laid flat: faces that hang together without a seam and look nearly one way. */
import { tick } from "../../cancelling";
import type { Mesh } from "../../geometry/mesh";
import { faceNormals } from "../../geometry/normals";
import { topologyOf } from "../../geometry/topology";
import { cosine } from "../../maths/exact";

export interface Charts {
  /** By face. */
  readonly of: Int32Array;
  readonly count: number;
}

/**
 * Grown from the first face that is left, the nearest first.
 * @param isSeam by edge, 1 where no chart goes over
 * @param spread radians by which a face may look another way than the first of its chart
 */
export function chartsOf(mesh: Mesh, isSeam: Uint8Array, spread: number): Charts {
  const topology = topologyOf(mesh);
  const normals = faceNormals(mesh);
  const least = cosine(spread);
  const of = new Int32Array(mesh.faces.count).fill(-1);
  let count = 0;
  for (let first = 0; first < of.length; first++) {
    if (of[first] >= 0) continue;
    const queue = [first];
    of[first] = count;
    for (let next = 0; next < queue.length; next++) {
      const face = queue[next];
      tick(4);
      for (let c = mesh.faceStarts[face]; c < mesh.faceStarts[face + 1]; c++) {
        const across = topology.across[c];
        if (across < 0 || isSeam[topology.edges.ofCorner[c]]) continue;
        const other = topology.faceOfCorner[across];
        const along = normals.reduce((sum, lane) => sum + lane[first] * lane[other], 0);
        if (of[other] >= 0 || along < least) continue;
        of[other] = count;
        queue.push(other);
      }
    }
    count++;
  }
  return { of, count };
}
