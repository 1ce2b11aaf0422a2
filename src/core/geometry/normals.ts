/** Which way a mesh looks at its points. */
import { tick } from "../cancelling";
import { faceAreaVectors, type Mesh } from "./mesh";

/**
 * Sum of the area vectors of the faces around each point, three lanes: a normal weighted by area, not of unit length.
 * @param normals area vectors of the faces
 */
export function pointNormals(
  mesh: Mesh,
  normals: readonly Float32Array[] = faceAreaVectors(mesh),
): Float32Array[] {
  const sums = normals.map(() => new Float32Array(mesh.points.count));
  for (let f = 0; f < mesh.faces.count; f++) {
    tick(4);
    for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++) {
      const p = mesh.cornerPoint[c];
      for (let a = 0; a < 3; a++) sums[a][p] += normals[a][f];
    }
  }
  return sums;
}
