/** Which way a mesh looks at its points. */
import { tick } from "../cancelling";
import { arcTangent2, lengthOf } from "../maths/exact";
import { faceAreaVectors, type Mesh, pointLanes } from "./mesh";

/**
 * Unit normal of every point, three lanes; zero where no face with an area meets it. Faces count by the angle that they take up
 * at the point, so it does not matter how a flat part is cut into faces (G. Thürmer and C. A. Wüthrich, "Computing
 * vertex normals from polygonal facets", Journal of Graphics Tools 3 (1), 1998).
 */
export function pointNormals(mesh: Mesh): Float32Array[] {
  const faces = faceNormals(mesh);
  const angles = cornerAngles(mesh, faces);
  const sums = faces.map(() => new Float32Array(mesh.points.count));
  for (let f = 0; f < mesh.faces.count; f++) {
    tick(4);
    for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++) {
      const p = mesh.cornerPoint[c];
      for (let a = 0; a < 3; a++) sums[a][p] += faces[a][f] * angles[c];
    }
  }
  unitLanes(sums);
  return sums;
}

/** Unit normal of every face, three lanes; zero for faces without an area. */
export function faceNormals(mesh: Mesh): Float32Array[] {
  const normals = faceAreaVectors(mesh);
  unitLanes(normals);
  return normals;
}

/**
 * The angle of every corner within its face, radians, 0 … 2π: more than π where the face is concave.
 * @param normals unit normals of the faces
 */
export function cornerAngles(mesh: Mesh, normals: readonly Float32Array[]): Float32Array {
  const [x, y, z] = pointLanes(mesh);
  const { faceStarts, cornerPoint } = mesh;
  const angles = new Float32Array(mesh.corners.count);
  for (let f = 0; f < mesh.faces.count; f++) {
    const start = faceStarts[f];
    const end = faceStarts[f + 1];
    tick(end - start);
    for (let c = start; c < end; c++) {
      const p = cornerPoint[c];
      const next = cornerPoint[c + 1 < end ? c + 1 : start];
      const before = cornerPoint[c > start ? c - 1 : end - 1];
      const ux = x[next] - x[p];
      const uy = y[next] - y[p];
      const uz = z[next] - z[p];
      const vx = x[before] - x[p];
      const vy = y[before] - y[p];
      const vz = z[before] - z[p];
      const across =
        normals[0][f] * (uy * vz - uz * vy) +
        normals[1][f] * (uz * vx - ux * vz) +
        normals[2][f] * (ux * vy - uy * vx);
      const angle = arcTangent2(across, ux * vx + uy * vy + uz * vz);
      angles[c] = angle < 0 ? angle + 2 * Math.PI : angle;
    }
  }
  return angles;
}

/** Brings vectors to unit length in place; those without a length stay. */
function unitLanes(lanes: readonly Float32Array[]): void {
  for (let i = 0; i < lanes[0].length; i++) {
    tick();
    const length = lengthOf(lanes[0][i], lanes[1][i], lanes[2][i]);
    if (length > 0) for (const lane of lanes) lane[i] /= length;
  }
}
