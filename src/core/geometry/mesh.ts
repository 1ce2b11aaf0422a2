/**
 * Polygon mesh in offset form.
 *
 * - `points`: column `position` (vector) and any others.
 * - `cornerPoint[c]`: the point of corner c, 0 ≤ cornerPoint[c] < points.count.
 * - `faceStarts`: length faces.count + 1, ascending; face f owns corners faceStarts[f] … faceStarts[f+1]−1,
 *   counter-clockwise seen from outside (right-handed, as glTF 2.0 §3.4).
 * - `corners.count` = cornerPoint.length = faceStarts[faces.count]. Optional corner columns `normal`, `uv` (origin top left,
 *   as glTF 2.0 has it); points have the `uv` of their first corner.
 * - `edges`: as many and in the order as `topologyOf(mesh).edges` has them.
 *
 * Arrays that say how faces hang together are never changed: shapes with the same ones share one `Topology`.
 */
import { tick } from "../cancelling";
import { type Column, type Domain, makeColumn } from "./column";

export interface Mesh {
  readonly points: Domain;
  readonly corners: Domain;
  readonly faces: Domain;
  /** Only there once edges carry something. */
  readonly edges?: Domain;
  readonly faceStarts: Int32Array;
  readonly cornerPoint: Int32Array;
}

export interface MeshParts {
  /** x, y, z lanes of the points. */
  position: readonly [Float32Array, Float32Array, Float32Array];
  faceStarts: Int32Array;
  cornerPoint: Int32Array;
  pointColumns?: Readonly<Record<string, Column>>;
  cornerColumns?: Readonly<Record<string, Column>>;
}

export function makeMesh(parts: MeshParts): Mesh {
  return {
    points: {
      count: parts.position[0].length,
      columns: {
        ...layOfPoints(parts),
        ...parts.pointColumns,
        position: makeColumn("vector", parts.position),
      },
    },
    corners: { count: parts.cornerPoint.length, columns: { ...parts.cornerColumns } },
    faces: { count: Math.max(0, parts.faceStarts.length - 1), columns: {} },
    faceStarts: parts.faceStarts,
    cornerPoint: parts.cornerPoint,
  };
}

function layOfPoints({ position, cornerPoint, cornerColumns }: MeshParts): Record<string, Column> {
  const corners = cornerColumns?.uv?.lanes;
  if (!corners) return {};
  const lanes = corners.map(() => new Float32Array(position[0].length));
  for (let c = cornerPoint.length - 1; c >= 0; c--) {
    tick();
    for (let l = 0; l < lanes.length; l++) lanes[l][cornerPoint[c]] = corners[l][c];
  }
  return { uv: makeColumn("pair", lanes) };
}

/** Collects points and faces one by one; for primitives and importers, not for hot loops. */
export class MeshBuilder {
  private readonly xyz: number[] = [];
  private readonly starts: number[] = [0];
  private readonly corners: number[] = [];
  private readonly us: number[] = [];
  private readonly vs: number[] = [];

  /** Adds a point and returns its index. */
  point(x: number, y: number, z: number): number {
    tick();
    this.xyz.push(x, y, z);
    return this.xyz.length / 3 - 1;
  }

  /** Adds a face from point indices, counter-clockwise seen from outside. */
  face(...points: readonly number[]): void {
    tick();
    for (const p of points) this.corners.push(p);
    this.starts.push(this.corners.length);
  }

  /** Where the corners of the face that was just added lie on a picture: u v of each, 0 0 its top left. All faces or none. */
  lay(...uv: readonly number[]): void {
    for (let k = 0; k < uv.length; k += 2) {
      this.us.push(uv[k]);
      this.vs.push(uv[k + 1]);
    }
  }

  build(): Mesh {
    const laid = this.us.length > 0 && this.us.length === this.corners.length;
    return makeMesh({
      position: splitVectors(this.xyz),
      faceStarts: integers(this.starts),
      cornerPoint: integers(this.corners),
      cornerColumns: laid ? { uv: makeColumn("pair", [floats(this.us), floats(this.vs)]) } : {},
    });
  }
}

/** A list as an array of integers. */
function integers(list: readonly number[]): Int32Array {
  const array = new Int32Array(list.length);
  for (let i = 0; i < list.length; i++) {
    tick();
    array[i] = list[i];
  }
  return array;
}

function floats(list: readonly number[]): Float32Array {
  const array = new Float32Array(list.length);
  for (let i = 0; i < list.length; i++) {
    tick(0.25);
    array[i] = list[i];
  }
  return array;
}

/** Interleaved x y z … to three lanes. */
export function splitVectors(xyz: ArrayLike<number>): [Float32Array, Float32Array, Float32Array] {
  const count = Math.floor(xyz.length / 3);
  const x = new Float32Array(count);
  const y = new Float32Array(count);
  const z = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    tick();
    x[i] = xyz[i * 3];
    y[i] = xyz[i * 3 + 1];
    z[i] = xyz[i * 3 + 2];
  }
  return [x, y, z];
}

/** The domain of a mesh that has its colours, the finest if several have; undefined when none has. */
export const coloredDomain = (mesh: Mesh): "corners" | "faces" | "points" | undefined =>
  (["corners", "faces", "points"] as const).find((name) => mesh[name].columns.color);

/** Position lanes of a mesh's points. */
export const pointLanes = (mesh: Pick<Mesh, "points">): readonly Float32Array[] =>
  mesh.points.columns.position.lanes as readonly Float32Array[];

/** The mesh with other point columns; corner normals are dropped when positions change, as they no longer hold. */
export function withPoints(mesh: Mesh, points: Domain): Mesh {
  const moved = points.columns.position !== mesh.points.columns.position;
  if (!moved || !mesh.corners.columns.normal) return { ...mesh, points };
  const { normal: _dropped, ...columns } = mesh.corners.columns;
  return { ...mesh, points, corners: { count: mesh.corners.count, columns } };
}

/**
 * Area-weighted normal of every face (not normalised: its length is twice the face's area), three lanes.
 * Newell's method, so slightly bent and concave polygons are fine.
 */
export function faceAreaVectors(mesh: Mesh): [Float32Array, Float32Array, Float32Array] {
  const lanes = pointLanes(mesh);
  const { faceStarts, cornerPoint, faces } = mesh;
  const out = [0, 1, 2].map(() => new Float32Array(faces.count)) as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  for (let f = 0; f < faces.count; f++) {
    tick();
    const [x, y, z] = areaVector(cornerPoint, faceStarts[f], faceStarts[f + 1], lanes);
    out[0][f] = x;
    out[1][f] = y;
    out[2][f] = z;
  }
  return out;
}

/** The same of one polygon, whose points stand in `points` from `start` to before `end`. */
export function areaVector(
  points: ArrayLike<number>,
  start: number,
  end: number,
  [x, y, z]: readonly ArrayLike<number>[],
): [number, number, number] {
  let sx = 0;
  let sy = 0;
  let sz = 0;
  let a = points[end - 1];
  for (let c = start; c < end; c++) {
    const b = points[c];
    sx += (y[a] - y[b]) * (z[a] + z[b]);
    sy += (z[a] - z[b]) * (x[a] + x[b]);
    sz += (x[a] - x[b]) * (y[a] + y[b]);
    a = b;
  }
  return [sx, sy, sz];
}

/** Middle of every face: the mean of its corners, three lanes. */
export function faceMiddles(mesh: Mesh): [Float32Array, Float32Array, Float32Array] {
  const [x, y, z] = pointLanes(mesh);
  const { faceStarts, cornerPoint } = mesh;
  const count = mesh.faces.count;
  const out: [Float32Array, Float32Array, Float32Array] = [
    new Float32Array(count),
    new Float32Array(count),
    new Float32Array(count),
  ];
  for (let f = 0; f < count; f++) {
    tick();
    const n = faceStarts[f + 1] - faceStarts[f];
    let sx = 0;
    let sy = 0;
    let sz = 0;
    for (let c = faceStarts[f]; c < faceStarts[f + 1]; c++) {
      const p = cornerPoint[c];
      sx += x[p];
      sy += y[p];
      sz += z[p];
    }
    out[0][f] = n > 0 ? sx / n : 0;
    out[1][f] = n > 0 ? sy / n : 0;
    out[2][f] = n > 0 ? sz / n : 0;
  }
  return out;
}
