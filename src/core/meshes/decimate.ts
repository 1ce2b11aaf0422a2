/** Fewer triangles that look as the many did, by meshoptimizer (after M. Garland and P. Heckbert, "Surface simplification using quadric error metrics", 1997). */
import type { MeshoptSimplifier } from "meshoptimizer/simplifier";
import type { Mesh } from "../geometry/mesh";
import { pointLanes } from "../geometry/mesh";
import { partsOf } from "../geometry/subset";
import { topologyOf } from "../geometry/topology";
import { Library } from "../library";
import { verticesOf } from "./vertices";

let simplifier: typeof MeshoptSimplifier | null = null;

export const SIMPLIFYING = new Library("simplifying of meshes", async () => {
  const library = await import("meshoptimizer/simplifier");
  await library.MeshoptSimplifier.ready;
  simplifier = library.MeshoptSimplifier;
});

export interface Decimated {
  readonly mesh: Mesh;
  /** How far the surface may have moved, units. */
  readonly error: number;
}

/**
 * Corners keep what they carry; where they differ at one point, as along the seam of a picture, the seam stays.
 * @param mesh triangles only
 * @param faces how many are wanted
 * @param keeps by point, 1 for those that stay
 * @param borders whether open borders stay
 * @param off units that the surface may move by: there are more faces than are wanted where it would be more
 */
export function decimated(
  mesh: Mesh,
  faces: number,
  keeps: Uint8Array | null,
  borders: boolean,
  off = Number.POSITIVE_INFINITY,
): Decimated {
  if (!simplifier) throw new Error("meshoptimizer is not loaded.");
  const { vertices, ofCorner } = verticesOf(mesh);
  const lanes = pointLanes(mesh);
  const places = new Float32Array(vertices.length * 3);
  for (const [v, c] of vertices.entries())
    for (let a = 0; a < 3; a++) places[v * 3 + a] = lanes[a][mesh.cornerPoint[c]];
  const scale = simplifier.getScale(places, 3);
  const locked = keeps && Uint8Array.from(vertices, (c) => keeps[mesh.cornerPoint[c]]);
  const [indices, relative] = simplifier.simplifyWithAttributes(
    Uint32Array.from(ofCorner),
    places,
    3,
    new Float32Array(vertices.length),
    1,
    [0],
    locked,
    Math.max(0, Math.round(faces)) * 3,
    Math.min(1, off / scale),
    borders ? ["LockBorder"] : [],
  );
  const corners = Int32Array.from(indices, (v) => vertices[v]);
  return { mesh: ofCorners(mesh, corners), error: relative * scale };
}

/** Triangles of corners that there were, with the points that they need. */
function ofCorners(mesh: Mesh, corners: Int32Array): Mesh {
  const { faceOfCorner } = topologyOf(mesh);
  const numbers = new Int32Array(mesh.points.count).fill(-1);
  const points: number[] = [];
  const cornerPoint = corners.map((c) => {
    const p = mesh.cornerPoint[c];
    if (numbers[p] < 0) numbers[p] = points.push(p) - 1;
    return numbers[p];
  });
  const { normal: _facing, ...columns } = mesh.corners.columns;
  const { edges: _gone, ...whole } = mesh;
  return partsOf(
    { ...whole, corners: { count: mesh.corners.count, columns } },
    {
      points: Int32Array.from(points),
      corners,
      faces: Int32Array.from({ length: corners.length / 3 }, (_, t) => faceOfCorner[corners[3 * t]]),
      faceStarts: Int32Array.from({ length: corners.length / 3 + 1 }, (_, t) => 3 * t),
      cornerPoint,
    },
  );
}
