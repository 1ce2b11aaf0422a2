/**
 * Edges and corners that a surface net rounds off: each point goes where the planes through the cuts of its cube meet (T. Ju et al., "Dual contouring
 * of Hermite data", 2002), held a little at the middle of the cuts, so that flat parts stay even, and never out of its cube.
 */
import { tick } from "../cancelling";
import { makeColumn, withColumns } from "../geometry/column";
import { type Mesh, pointLanes, withPoints } from "../geometry/mesh";
import { levelName, type Volume, VolumeReader } from "../geometry/volume";
import { lengthOf } from "../maths/exact";
import { VolumeQuestions } from "./questions";

/** How strongly a point is held at the middle of its cuts. */
const HOLD = 0.02;
/** Voxels that a slope is read farther from the middle than its cut, where the edge itself does not blur it. */
const OUTWARDS = 1;

/** Corners of a cube as places in it. */
const CORNERS = Array.from({ length: 8 }, (_, c) => [c & 1, (c >> 1) & 1, c >> 2] as const);
/** Pairs of corners that differ along one axis. */
const EDGES = CORNERS.flatMap((_, c) =>
  [1, 2, 4].filter((bit) => !(c & bit)).map((bit) => [c, c | bit] as const),
);

/** @param mesh the net of the volume at that level, a point for each cube */
export function withSharpEdges(mesh: Mesh, volume: Volume, level: number): Mesh {
  const reader = new VolumeReader(volume, levelName(volume));
  const questions = new VolumeQuestions(volume, "");
  const from = pointLanes(mesh);
  const lanes = from.map((lane) => Float32Array.from(lane));
  const { voxel } = volume;
  const values = new Float64Array(8);
  const slope = [0, 0, 0];
  for (let p = 0; p < mesh.points.count; p++) {
    tick(40);
    const cube = from.map((lane) => Math.floor(lane[p] / voxel));
    for (const [c, corner] of CORNERS.entries())
      values[c] = reader.voxel(cube[0] + corner[0], cube[1] + corner[1], cube[2] + corner[2]) - level;
    const cuts = cutsOf(values);
    // Rounding may have put a point into the cube beside its own.
    if (cuts.length === 0) continue;
    const middle = [0, 1, 2].map((a) => cuts.reduce((sum, cut) => sum + cut[a], 0) / cuts.length);
    const planes = cuts.map((cut) => {
      const away = cut.map((v, a) => v - middle[a]);
      const long = lengthOf(away[0], away[1], away[2]);
      const [x, y, z] = cut.map(
        (v, a) => (cube[a] + v + (long > 0 ? (away[a] / long) * OUTWARDS : 0)) * voxel,
      );
      questions.gradient(x, y, z, slope);
      const steep = lengthOf(slope[0], slope[1], slope[2]) || 1;
      return { through: cut, facing: slope.map((v) => v / steep) };
    });
    const at = meetingPlace(planes, middle);
    for (let a = 0; a < 3; a++) lanes[a][p] = (cube[a] + Math.min(1, Math.max(0, at[a]))) * voxel;
  }
  return withPoints(mesh, withColumns(mesh.points, { position: makeColumn("vector", lanes) }));
}

/** Where the surface cuts the edges of a cube, in parts of it. */
function cutsOf(values: ArrayLike<number>): number[][] {
  const cuts: number[][] = [];
  for (const [a, b] of EDGES) {
    if (values[a] < 0 === values[b] < 0) continue;
    const t = values[a] / (values[a] - values[b]);
    cuts.push(CORNERS[a].map((v, axis) => v + (CORNERS[b][axis] - v) * t));
  }
  return cuts;
}

interface Plane {
  readonly through: readonly number[];
  readonly facing: readonly number[];
}

/** The place with the least sum of squared distances to planes, and a little to the middle: normal equations by Cramer's rule. */
function meetingPlace(planes: readonly Plane[], middle: readonly number[]): number[] {
  const m = [HOLD, 0, 0, HOLD, 0, HOLD];
  const right = [0, 0, 0];
  for (const {
    through,
    facing: [x, y, z],
  } of planes) {
    const far = x * (through[0] - middle[0]) + y * (through[1] - middle[1]) + z * (through[2] - middle[2]);
    for (const [i, v] of [x * x, x * y, x * z, y * y, y * z, z * z].entries()) m[i] += v;
    for (const [i, v] of [x, y, z].entries()) right[i] += v * far;
  }
  const [xx, xy, xz, yy, yz, zz] = m;
  const [a, b, c] = [yy * zz - yz * yz, xz * yz - xy * zz, xy * yz - xz * yy];
  const determinant = xx * a + xy * b + xz * c;
  const [e, f, g] = [xx * zz - xz * xz, xy * xz - xx * yz, xx * yy - xy * xy];
  return [
    middle[0] + (a * right[0] + b * right[1] + c * right[2]) / determinant,
    middle[1] + (b * right[0] + e * right[1] + f * right[2]) / determinant,
    middle[2] + (c * right[0] + f * right[1] + g * right[2]) / determinant,
  ];
}
