/** A mesh of triangles only. */

import { countUp } from "../geometry/column";
import type { Mesh } from "../geometry/mesh";
import { partsOf } from "../geometry/subset";
import { topologyOf } from "../geometry/topology";
import { triangleCorners } from "../geometry/triangles";

export const isOfTriangles = ({ faceStarts, faces }: Mesh): boolean => {
  for (let f = 0; f < faces.count; f++) if (faceStarts[f + 1] - faceStarts[f] !== 3) return false;
  return true;
};

/** The very same mesh if it is. Edges that cut faces carry nothing of their own. */
export function triangulated(mesh: Mesh): Mesh {
  if (isOfTriangles(mesh)) return mesh;
  const corners = triangleCorners(mesh);
  const { faceOfCorner } = topologyOf(mesh);
  const { edges: _cut, ...whole } = mesh;
  return partsOf(whole, {
    points: countUp(mesh.points.count),
    corners,
    faces: Int32Array.from({ length: corners.length / 3 }, (_, t) => faceOfCorner[corners[3 * t]]),
    faceStarts: Int32Array.from({ length: corners.length / 3 + 1 }, (_, t) => 3 * t),
    cornerPoint: corners.map((c) => mesh.cornerPoint[c]),
  });
}
