/** Polygon mesh to what a renderer draws: shared vertices, normals, triangles. */

import { tick } from "../cancelling";
import { countUp, type Lane } from "../geometry/column";
import { hasLook, writeLooks } from "../geometry/looks-of";
import { coloredDomain, type Mesh, pointLanes } from "../geometry/mesh";
import { cornerAngles, faceNormals } from "../geometry/normals";
import { LOOK_WIDTH } from "../geometry/surface-look";
import { topologyOf } from "../geometry/topology";
import { triangleCorners } from "../geometry/triangles";
import { cosine, lengthOf } from "../maths/exact";

/**
 * - `positions`, `normals`: 3 numbers a vertex, interleaved; normals are unit.
 * - `colors`: 4 numbers a vertex (linear RGBA), only when the mesh's corners, faces or points are coloured.
 * - `uvs`: 2 numbers a vertex (origin top left, as glTF 2.0), only when they are asked for and the corners have them.
 * - `indices`: 3 a triangle, counter-clockwise seen from outside.
 */
export interface DrawGeometry {
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly colors?: Float32Array;
  readonly uvs?: Float32Array;
  /** What vertices are made of (geometry/surface-look.ts), LOOK_WIDTH numbers each, only when the mesh's points say any of it. */
  readonly looks?: Float32Array;
  readonly indices: Uint32Array;
}

/** Faces meeting at less than this angle are shaded as one smooth surface (common practice, no source). */
const CREASE_DEGREES = 40;

/** A geometry with which corners became one vertex. */
export interface Triangulated {
  readonly geometry: DrawGeometry;
  readonly vertexOfCorner: Int32Array;
  readonly cornerOfVertex: readonly number[];
}

/** @param laid with `uvs`, for which vertices are split along the seams of pictures */
export const triangulate = (mesh: Mesh, laid = false): DrawGeometry => triangulated(mesh, laid).geometry;

export function triangulated(mesh: Mesh, laid = false): Triangulated {
  const [x, y, z] = pointLanes(mesh);
  const normal = cornerNormals(mesh);
  const uv = laid ? mesh.corners.columns.uv?.lanes : undefined;
  const color = colorsOf(mesh);
  // Points have one colour for all of their corners.
  const split = color?.elementOfCorner === mesh.cornerPoint ? undefined : color;
  const { vertexOfCorner, cornerOfVertex } = shareVertices(mesh, normal, uv, split);
  const count = cornerOfVertex.length;
  const positions = new Float32Array(count * 3);
  const normals = new Float32Array(count * 3);
  const uvs = uv ? new Float32Array(count * 2) : undefined;
  const colors = color ? new Float32Array(count * 4) : undefined;
  for (let v = 0; v < count; v++) {
    tick();
    const c = cornerOfVertex[v];
    const p = mesh.cornerPoint[c];
    positions[v * 3] = x[p];
    positions[v * 3 + 1] = y[p];
    positions[v * 3 + 2] = z[p];
    for (let a = 0; a < 3; a++) normals[v * 3 + a] = normal[a][c];
    if (uvs && uv) for (let a = 0; a < 2; a++) uvs[v * 2 + a] = uv[a][c];
    if (colors && color)
      for (let a = 0; a < 4; a++) colors[v * 4 + a] = color.lanes[a][color.elementOfCorner[c]];
  }
  const geometry = {
    positions,
    normals,
    ...(colors ? { colors } : {}),
    ...(uvs ? { uvs } : {}),
    ...(hasLook(mesh.points) ? { looks: looksOfVertices(mesh, cornerOfVertex) } : {}),
    indices: triangles(mesh, vertexOfCorner),
  };
  return { geometry, vertexOfCorner, cornerOfVertex };
}

const looksOfVertices = ({ points, cornerPoint }: Mesh, cornerOfVertex: readonly number[]): Float32Array =>
  writeLooks(
    points,
    new Float32Array(cornerOfVertex.length * LOOK_WIDTH),
    cornerOfVertex.map((corner) => cornerPoint[corner]),
  );

interface CornerColors {
  readonly lanes: readonly Lane[];
  /** Which element of the coloured domain each corner belongs to. */
  readonly elementOfCorner: Int32Array;
}

function colorsOf(mesh: Mesh): CornerColors | undefined {
  const name = coloredDomain(mesh);
  const color = name && mesh[name].columns.color;
  return color && { lanes: color.lanes, elementOfCorner: ELEMENT_OF_CORNER[name](mesh) };
}

const ELEMENT_OF_CORNER = {
  corners: ({ corners }: Mesh) => countUp(corners.count),
  faces: (mesh: Mesh) => topologyOf(mesh).faceOfCorner,
  points: ({ cornerPoint }: Mesh) => cornerPoint,
};

function triangles(mesh: Mesh, vertexOfCorner: Int32Array): Uint32Array {
  const corners = triangleCorners(mesh);
  const vertices = new Uint32Array(corners.length);
  for (let i = 0; i < corners.length; i++) {
    tick(0.25);
    vertices[i] = vertexOfCorner[corners[i]];
  }
  return vertices;
}

/**
 * Unit normal of every corner: the mesh's own if it has them, else the mean of the faces around the corner's
 * point that meet the corner's face at less than the crease angle, weighted by their angles (see `pointNormals`).
 */
function cornerNormals(mesh: Mesh): readonly Float32Array[] {
  const own = mesh.corners.columns.normal?.lanes as readonly Float32Array[] | undefined;
  if (own) return own;
  const normals = faceNormals(mesh);
  const angles = cornerAngles(mesh, normals);
  const { cornersOfPoints, faceOfCorner: faceOf } = topologyOf(mesh);
  const { starts, items: corners } = cornersOfPoints;
  const limit = cosine((CREASE_DEGREES * Math.PI) / 180);
  const [nx, ny, nz] = normals;
  const out = [0, 1, 2].map(() => new Float32Array(mesh.corners.count));
  for (let c = 0; c < mesh.corners.count; c++) {
    tick();
    const f = faceOf[c];
    const p = mesh.cornerPoint[c];
    let sx = 0;
    let sy = 0;
    let sz = 0;
    for (let k = starts[p]; k < starts[p + 1]; k++) {
      const g = faceOf[corners[k]];
      if (g !== f && nx[f] * nx[g] + ny[f] * ny[g] + nz[f] * nz[g] < limit) continue;
      const angle = angles[corners[k]];
      sx += nx[g] * angle;
      sy += ny[g] * angle;
      sz += nz[g] * angle;
    }
    const length = lengthOf(sx, sy, sz);
    // A face without area has no direction; any unit vector keeps the file valid.
    out[0][c] = length > 0 ? sx / length : 0;
    out[1][c] = length > 0 ? sy / length : 1;
    out[2][c] = length > 0 ? sz / length : 0;
  }
  return out;
}

/** Corners of one point with (nearly) the same normal, the same uv and the same colour become one vertex. */
function shareVertices(
  mesh: Mesh,
  normal: readonly Float32Array[],
  uv: readonly ArrayLike<number>[] | undefined,
  color: CornerColors | undefined,
): { vertexOfCorner: Int32Array; cornerOfVertex: number[] } {
  const { starts, items: corners } = topologyOf(mesh).cornersOfPoints;
  const vertexOfCorner = new Int32Array(mesh.corners.count);
  const cornerOfVertex: number[] = [];
  const same = (a: number, b: number): boolean =>
    Math.abs(normal[0][a] - normal[0][b]) < 1e-4 &&
    Math.abs(normal[1][a] - normal[1][b]) < 1e-4 &&
    Math.abs(normal[2][a] - normal[2][b]) < 1e-4 &&
    (!uv || (uv[0][a] === uv[0][b] && uv[1][a] === uv[1][b])) &&
    (!color ||
      color.lanes.every((lane) => lane[color.elementOfCorner[a]] === lane[color.elementOfCorner[b]]));
  for (let p = 0; p < mesh.points.count; p++) {
    tick();
    const first = cornerOfVertex.length;
    for (let k = starts[p]; k < starts[p + 1]; k++) {
      const c = corners[k];
      let vertex = first;
      while (vertex < cornerOfVertex.length && !same(cornerOfVertex[vertex], c)) vertex++;
      if (vertex === cornerOfVertex.length) cornerOfVertex.push(c);
      vertexOfCorner[c] = vertex;
    }
  }
  return { vertexOfCorner, cornerOfVertex };
}
