/** Where a mesh lies on a picture, by looking at it from one side or from all around. */
import { tick } from "../../cancelling";
import { makeColumn, withColumns } from "../../geometry/column";
import { faceAreaVectors, type Mesh, makeMesh, pointLanes } from "../../geometry/mesh";
import { arcTangent2, lengthOf } from "../../maths/exact";

export const PROJECTIONS = ["from one side", "box", "cylinder", "ball"] as const;
export type Projection = (typeof PROJECTIONS)[number];

export interface Projecting {
  readonly how: Projection;
  /** The axis that it is looked along, or that stands in the cylinder or the ball. */
  readonly axis: 0 | 1 | 2;
  /** The box that a picture fills, once. */
  readonly min: readonly number[];
  readonly max: readonly number[];
}

/**
 * By corner, so that a face beside a seam lies on one side of it: it may reach beyond 1 then. Pictures stand upright: to the right along
 * x, or along −z seen from the right.
 */
export function projectedUvs(mesh: Mesh, { how, axis, min, max }: Projecting): Mesh {
  const lanes = pointLanes(mesh);
  const areas = faceAreaVectors(mesh);
  const u = new Float32Array(mesh.corners.count);
  const v = new Float32Array(mesh.corners.count);
  const part = (a: number, value: number) => (max[a] > min[a] ? (value - min[a]) / (max[a] - min[a]) : 0.5);
  const middle = [0, 1, 2].map((a) => (min[a] + max[a]) / 2);
  for (let f = 0; f < mesh.faces.count; f++) {
    const area = areas.map((lane) => lane[f]);
    const along = how === "box" ? greatest(area) : axis;
    tick(4);
    for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++) {
      const place = lanes.map((lane) => lane[mesh.cornerPoint[c]]);
      if (how === "from one side" || how === "box") {
        const [right, up] = SEEN[along];
        const isBehind = how === "box" && area[along] < 0;
        const across = part(right, place[right]);
        u[c] = isBehind !== MIRRORED[along] ? 1 - across : across;
        v[c] = 1 - part(up, place[up]);
        continue;
      }
      const [a, b] = AROUND[axis];
      const [x, y, z] = [place[a] - middle[a], place[b] - middle[b], place[axis] - middle[axis]];
      u[c] = 0.5 + arcTangent2(x, y) / (2 * Math.PI);
      v[c] =
        how === "cylinder" ? 1 - part(axis, place[axis]) : 0.5 - arcTangent2(z, lengthOf(x, y, 0)) / Math.PI;
    }
    if (how === "cylinder" || how === "ball") mendSeam(mesh, lanes, f, AROUND[axis], middle, u);
  }
  return withUvs(mesh, u, v);
}

/** The axes that are seen to the right and up, looking against each axis. */
const SEEN = [
  [2, 1],
  [0, 2],
  [0, 1],
] as const;
/** Whether the one to the right is seen running to the left. */
const MIRRORED = [true, false, false] as const;
/** The axes around each axis: the angle is 0 along the second, towards the first. */
const AROUND = [
  [2, 1],
  [0, 2],
  [1, 0],
] as const;

const greatest = (vector: readonly number[]): 0 | 1 | 2 => {
  const [x, y, z] = vector.map(Math.abs);
  return x > y && x > z ? 0 : y > z ? 1 : 2;
};

/** Corners more than half a round away from the first go to its side; one on the axis lies in the middle of the others. */
function mendSeam(
  mesh: Mesh,
  lanes: readonly Float32Array[],
  face: number,
  [a, b]: readonly [number, number],
  middle: readonly number[],
  u: Float32Array,
): void {
  const [start, end] = [mesh.faceStarts[face], mesh.faceStarts[face + 1]];
  const onAxis = (c: number) =>
    lengthOf(lanes[a][mesh.cornerPoint[c]] - middle[a], lanes[b][mesh.cornerPoint[c]] - middle[b], 0) < 1e-6;
  const others = Array.from({ length: end - start }, (_, i) => start + i).filter((c) => !onAxis(c));
  if (others.length === 0) return;
  const first = u[others[0]];
  for (const c of others) u[c] -= Math.round(u[c] - first);
  const mean = others.reduce((sum, c) => sum + u[c], 0) / others.length;
  for (let c = start; c < end; c++) if (onAxis(c)) u[c] = mean;
}

/** The mesh laid out so, its points as their first corners are. */
export function withUvs(mesh: Mesh, u: Float32Array, v: Float32Array): Mesh {
  const uv = makeColumn("pair", [u, v]);
  const { points } = makeMesh({
    position: pointLanes(mesh) as [Float32Array, Float32Array, Float32Array],
    faceStarts: mesh.faceStarts,
    cornerPoint: mesh.cornerPoint,
    cornerColumns: { uv },
  });
  return {
    ...mesh,
    points: withColumns(mesh.points, { uv: points.columns.uv }),
    corners: withColumns(mesh.corners, { uv }),
  };
}
