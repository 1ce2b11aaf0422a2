/** Parts of a mesh that hang together, and meshes taken apart. */
import { tick } from "../cancelling";
import { type Columns, countUp, makeColumn, makeIntegers, makeLanes, withColumns } from "../geometry/column";
import { faceAreaVectors, type Mesh, pointLanes, withPoints } from "../geometry/mesh";
import { partsOf } from "../geometry/subset";
import { topologyOf } from "../geometry/topology";
import { fromBasis, type Quaternion, rotate } from "../maths/quaternion";
import { anyAcross, cross, dot, normalise, type Vec3 } from "../maths/vector";

/** For each face the number of its part, in the order of their first faces: faces that share a point are of one part. */
export function connectedParts(mesh: Mesh): { readonly of: Int32Array; readonly count: number } {
  const { cornersOfPoints, faceOfCorner } = topologyOf(mesh);
  const of = makeIntegers(mesh.faces.count).fill(-1);
  let count = 0;
  for (let f = 0; f < of.length; f++) {
    if (of[f] >= 0) continue;
    const left = [f];
    of[f] = count;
    for (let face = left.pop(); face !== undefined; face = left.pop()) {
      for (let c = mesh.faceStarts[face]; c < mesh.faceStarts[face + 1]; c++) {
        const p = mesh.cornerPoint[c];
        tick();
        for (let k = cornersOfPoints.starts[p]; k < cornersOfPoints.starts[p + 1]; k++) {
          const other = faceOfCorner[cornersOfPoints.items[k]];
          if (of[other] >= 0) continue;
          of[other] = count;
          left.push(other);
        }
      }
    }
    count++;
  }
  return { of, count };
}

/** Where a part is, and how it stands: z along its facing, x along its first edge. */
export interface PartFrame {
  readonly middle: Vec3;
  /** Unit; 0 0 0 where its faces look all ways. */
  readonly facing: Vec3;
  readonly turn: Quaternion;
}

/** @param of the part of each face, 0 … count − 1 */
export function framesOfParts(mesh: Mesh, of: ArrayLike<number>, count: number): PartFrame[] {
  const lanes = pointLanes(mesh);
  const areas = faceAreaVectors(mesh);
  const facing = Array.from({ length: count }, () => [0, 0, 0]);
  const sums = Array.from({ length: count }, () => [0, 0, 0, 0]);
  const edge = new Int32Array(count).fill(-1);
  for (let f = 0; f < mesh.faces.count; f++) {
    const part = of[f];
    if (edge[part] < 0) edge[part] = mesh.faceStarts[f];
    for (let a = 0; a < 3; a++) facing[part][a] += areas[a][f];
    for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++) {
      tick();
      for (let a = 0; a < 3; a++) sums[part][a] += lanes[a][mesh.cornerPoint[c]];
      sums[part][3]++;
    }
  }
  return facing.map((way, part) => {
    const [x, y, z, n] = sums[part];
    const forward = normalise(way as unknown as Vec3);
    const [p, q] = [mesh.cornerPoint[edge[part]], mesh.cornerPoint[edge[part] + 1]];
    const along: Vec3 = [lanes[0][q] - lanes[0][p], lanes[1][q] - lanes[1][p], lanes[2][q] - lanes[2][p]];
    const off = dot(along, forward);
    const flat = normalise([
      along[0] - forward[0] * off,
      along[1] - forward[1] * off,
      along[2] - forward[2] * off,
    ]);
    const hasFacing = dot(forward, forward) > 0;
    const right = dot(flat, flat) > 0.5 ? flat : anyAcross(forward);
    return {
      middle: [x / n, y / n, z / n],
      facing: forward,
      turn: hasFacing ? fromBasis(right, cross(forward, right), forward) : [0, 0, 0, 1],
    };
  });
}

/** Attributes that tell of a part on each of its faces and points. */
export const PART = "part";
export const MIDDLE = "middle";
export const FACING = "facing";

/**
 * Faces of different parts share no points any more. Faces and points have `part`, its number, `middle` and `facing`.
 * @param of the part of each face, 0 … count − 1
 */
export function takenApart(mesh: Mesh, of: Int32Array, count: number): Mesh {
  const points: number[] = [];
  const partOfPoint: number[] = [];
  const cornerPoint = new Int32Array(mesh.corners.count);
  const { cornersOfPoints, faceOfCorner } = topologyOf(mesh);
  for (let p = 0; p < mesh.points.count; p++) {
    const own = new Map<number, number>();
    for (let k = cornersOfPoints.starts[p]; k < cornersOfPoints.starts[p + 1]; k++) {
      tick();
      const c = cornersOfPoints.items[k];
      const part = of[faceOfCorner[c]];
      let at = own.get(part);
      if (at === undefined) {
        at = points.push(p) - 1;
        partOfPoint.push(part);
        own.set(part, at);
      }
      cornerPoint[c] = at;
    }
  }
  const made = partsOf(mesh, {
    points: Int32Array.from(points),
    corners: countUp(mesh.corners.count),
    faces: countUp(mesh.faces.count),
    faceStarts: mesh.faceStarts,
    cornerPoint,
  });
  const frames = framesOfParts(mesh, of, count);
  const frameOf = (part: number) => frames[part];
  return {
    ...made,
    points: withColumns(made.points, told(frameOf, Int32Array.from(partOfPoint))),
    faces: withColumns(made.faces, told(frameOf, of)),
  };
}

function told(frameOf: (part: number) => PartFrame, of: Int32Array): Columns {
  const [middle, facing] = [makeLanes("vector", of.length), makeLanes("vector", of.length)];
  for (let i = 0; i < of.length; i++)
    for (let a = 0; a < 3; a++) {
      middle[a][i] = frameOf(of[i]).middle[a];
      facing[a][i] = frameOf(of[i]).facing[a];
    }
  return {
    [PART]: makeColumn("integer", [of]),
    [MIDDLE]: makeColumn("vector", middle),
    [FACING]: makeColumn("vector", facing),
  };
}

/** Each part as a mesh about its own middle, its facing along z. */
export function partMeshes(mesh: Mesh, of: Int32Array, frames: readonly PartFrame[]): Mesh[] {
  const facesOf: number[][] = frames.map(() => []);
  for (const [f, part] of of.entries()) facesOf[part].push(f);
  const numbers = new Int32Array(mesh.points.count).fill(-1);
  return facesOf.map((faces, part) => {
    const points: number[] = [];
    const corners: number[] = [];
    const starts = [0];
    for (const f of faces) {
      for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++) {
        const p = mesh.cornerPoint[c];
        tick(4);
        if (numbers[p] < 0) numbers[p] = points.push(p) - 1;
        corners.push(c);
      }
      starts.push(corners.length);
    }
    const made = partsOf(mesh, {
      points: Int32Array.from(points),
      corners: Int32Array.from(corners),
      faces: Int32Array.from(faces),
      faceStarts: Int32Array.from(starts),
      cornerPoint: Int32Array.from(corners, (c) => numbers[mesh.cornerPoint[c]]),
    });
    for (const p of points) numbers[p] = -1;
    return aboutItself(made, frames[part]);
  });
}

/** A mesh as it lies in a frame. */
export function aboutItself(mesh: Mesh, { middle, turn }: PartFrame): Mesh {
  const back: Quaternion = [-turn[0], -turn[1], -turn[2], turn[3]];
  const lanes = makeLanes("vector", mesh.points.count);
  const from = pointLanes(mesh);
  for (let p = 0; p < mesh.points.count; p++) {
    const at = rotate(back, [from[0][p] - middle[0], from[1][p] - middle[1], from[2][p] - middle[2]]);
    for (let a = 0; a < 3; a++) lanes[a][p] = at[a];
  }
  return withPoints(mesh, withColumns(mesh.points, { position: makeColumn("vector", lanes) }));
}

/** A mesh whose faces and points all belong to one part of another one. */
export function asPart(mesh: Mesh, part: number, frame: PartFrame): Mesh {
  const of = (count: number) => told(() => frame, new Int32Array(count).fill(part));
  return {
    ...mesh,
    points: withColumns(mesh.points, of(mesh.points.count)),
    faces: withColumns(mesh.faces, of(mesh.faces.count)),
  };
}
