/** How a surface bends at its points. */
import { tick } from "../cancelling";
import { type Mesh, pointLanes } from "../geometry/mesh";
import { pointNormals } from "../geometry/normals";
import { topologyOf } from "../geometry/topology";
import { triangleCorners } from "../geometry/triangles";
import { arcTangent2, lengthOf } from "../maths/exact";
import { cross, dot, minus, type Vec3 } from "../maths/vector";
import { borderPoints } from "./smooth";

export interface Curvature {
  /** 1 ÷ units: half of the sum of both main curvatures, more than 0 where it stands out. */
  readonly mean: Float32Array;
  /** 1 ÷ units²: their product, less than 0 at saddles. */
  readonly gaussian: Float32Array;
}

/**
 * By cotangents and by the angle that is missing around a point (M. Meyer, M. Desbrun, P. Schröder and A. Barr, "Discrete
 * differential-geometry operators for triangulated 2-manifolds", 2003), over the area that is nearest to the point. 0 on borders.
 */
export function curvatureOf(mesh: Mesh): Curvature {
  const count = mesh.points.count;
  const lanes = pointLanes(mesh);
  const at = (p: number): Vec3 => [lanes[0][p], lanes[1][p], lanes[2][p]];
  const area = new Float64Array(count);
  const angle = new Float64Array(count);
  const bend = [0, 1, 2].map(() => new Float64Array(count));
  const corners = triangleCorners(mesh);
  for (let t = 0; t < corners.length; t += 3) {
    tick(12);
    const points = [0, 1, 2].map((k) => mesh.cornerPoint[corners[t + k]]);
    const [a, b, c] = points.map(at);
    const size = lengthOf(...cross(minus(b, a), minus(c, a)));
    // Where a corner is blunt the nearest areas are not within the triangle: half of it goes to that corner, a quarter to each other.
    const blunt = [0, 1, 2].findIndex((k) =>
      isBlunt(at(points[k]), at(points[(k + 1) % 3]), at(points[(k + 2) % 3])),
    );
    for (let k = 0; k < 3; k++) {
      const [p, q, r] = [points[k], points[(k + 1) % 3], points[(k + 2) % 3]];
      const [u, v] = [minus(at(q), at(p)), minus(at(r), at(p))];
      angle[p] += arcTangent2(size, dot(u, v));
      if (blunt >= 0) area[p] += size / (blunt === k ? 4 : 8);
      // The cotangent of the corner at p weighs the edge across from it.
      const cotangent = size > 0 ? dot(u, v) / size : 0;
      if (blunt < 0) {
        const edge = minus(at(r), at(q));
        for (const end of [q, r]) area[end] += (dot(edge, edge) * cotangent) / 8;
      }
      for (let l = 0; l < 3; l++) {
        const along = (lanes[l][r] - lanes[l][q]) * cotangent;
        bend[l][q] += along;
        bend[l][r] -= along;
      }
    }
  }
  const normals = pointNormals(mesh);
  const mean = new Float32Array(count);
  const gaussian = new Float32Array(count);
  for (let p = 0; p < count; p++) {
    if (area[p] === 0) continue;
    // −Δx ÷ 2 along the facing; Δx is the sum over edges ÷ twice the area.
    mean[p] =
      -(bend[0][p] * normals[0][p] + bend[1][p] * normals[1][p] + bend[2][p] * normals[2][p]) / (4 * area[p]);
    gaussian[p] = (2 * Math.PI - angle[p]) / area[p];
  }
  for (const p of borderPoints(topologyOf(mesh))) {
    mean[p] = 0;
    gaussian[p] = 0;
  }
  return { mean, gaussian };
}

const isBlunt = (corner: Vec3, b: Vec3, c: Vec3): boolean => dot(minus(b, corner), minus(c, corner)) < 0;
