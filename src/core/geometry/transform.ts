/** Moving, turning and scaling whole shapes. */

import { tick } from "../cancelling";
import { lengthOf } from "../maths/exact";
import { type MutableQuaternion, multiply, type Quaternion, rotate } from "../maths/quaternion";
import { normalise, type Vec3 } from "../maths/vector";
import { type Column, type Domain, makeColumn, makeLanes, withColumns } from "./column";
import { HANDLES } from "./curves";
import { type Mesh, withPoints } from "./mesh";
import { lanesOf, type Shape } from "./shape";
import { turnedRound } from "./transform-matrix";

export interface Placement {
  readonly move: Vec3;
  readonly turn: Quaternion;
  readonly scale: Vec3;
}

/**
 * The shape scaled, then turned, then moved. Sites keep rotation and scale of their own: an uneven scale
 * stretches each own axis of a site by as much as it stretches that direction (a shear is not kept). A scale that
 * mirrors turns faces round, so that they still look outward, and mirrors the sites.
 */
export function transformShape(shape: Shape, placement: Placement): Shape {
  const { mesh, curves, sites } = shape;
  return {
    ...shape,
    ...(mesh
      ? {
          mesh: placeMesh(mesh, placement),
        }
      : {}),
    ...(curves
      ? { curves: { ...curves, points: placeWays(placePoints(curves.points, placement), placement) } }
      : {}),
    ...(sites ? { sites: placeSites(sites, placement) } : {}),
  };
}

function placePoints(points: Domain, { move, turn, scale }: Placement): Domain {
  const [x, y, z] = points.columns.position.lanes;
  const lanes = makeLanes("vector", points.count);
  for (let i = 0; i < points.count; i++) {
    tick();
    const p = rotate(turn, [x[i] * scale[0], y[i] * scale[1], z[i] * scale[2]]);
    lanes[0][i] = p[0] + move[0];
    lanes[1][i] = p[1] + move[1];
    lanes[2][i] = p[2] + move[2];
  }
  return withColumns(points, { position: makeColumn("vector", lanes) });
}

/** Vectors that go from points somewhere, as handles do, turned and scaled with them. */
function placeWays(points: Domain, { turn, scale }: Placement): Domain {
  const placed: Record<string, Column> = {};
  for (const name of HANDLES) {
    const column = points.columns[name];
    if (column)
      placed[name] = placePoints(withColumns(points, { position: column }), {
        move: [0, 0, 0],
        turn,
        scale,
      }).columns.position;
  }
  return withColumns(points, placed);
}

function placeMesh(mesh: Mesh, placement: Placement): Mesh {
  const moved = withPoints(mesh, placePoints(mesh.points, placement));
  const normal = placeNormals(mesh.corners.columns.normal, placement);
  const placed = normal ? { ...moved, corners: withColumns(moved.corners, { normal }) } : moved;
  const [x, y, z] = placement.scale;
  return x * y * z < 0 ? turnedRound(placed) : placed;
}

/** Normals by the inverse transpose, unit; none when the mesh is made flat, as they no longer hold then. */
function placeNormals(normal: Column | undefined, { turn, scale }: Placement): Column | undefined {
  if (!normal || scale.includes(0)) return undefined;
  const even = scale[0] > 0 && scale[0] === scale[1] && scale[1] === scale[2];
  const [x, y, z] = normal.lanes;
  const lanes = makeLanes("vector", x.length);
  for (let c = 0; c < x.length; c++) {
    tick();
    const own: Vec3 = even
      ? [x[c], y[c], z[c]]
      : normalise([x[c] / scale[0], y[c] / scale[1], z[c] / scale[2]]);
    const n = rotate(turn, own);
    for (let l = 0; l < 3; l++) lanes[l][c] = n[l];
  }
  return makeColumn("vector", lanes);
}

/** 1 or −1 for each axis that a scale keeps or mirrors. */
export const mirrorOf = (scale: Vec3): Vec3 => scale.map((s) => (s < 0 ? -1 : 1)) as unknown as Vec3;

/**
 * The rotation M R M of a mirror M along the axes (its own inverse), so that M R = (M R M) M: what is mirrored from outside
 * is turned by it and mirrored along its own axes. The axis of a rotation is an axial vector, its parts take the
 * product of the other two signs.
 */
export const mirroredTurn = ([x, y, z, w]: Quaternion, [mx, my, mz]: Vec3): Quaternion => [
  x * my * mz,
  y * mz * mx,
  z * mx * my,
  w,
];

function placeSites(sites: Domain, placement: Placement): Domain {
  const { turn, scale } = placement;
  const placed = placePoints(sites, placement);
  const from = lanesOf(sites, "rotation", "rotation").lanes;
  const size = lanesOf(sites, "scale", "vector").lanes;
  const rotation = makeLanes("rotation", sites.count);
  const scales = makeLanes("vector", sites.count);
  const turned: MutableQuaternion = [0, 0, 0, 1];
  const even = scale[0] === scale[1] && scale[1] === scale[2];
  const mirror = mirrorOf(scale);
  for (let i = 0; i < sites.count; i++) {
    const own: Quaternion = from ? [from[0][i], from[1][i], from[2][i], from[3][i]] : [0, 0, 0, 1];
    tick();
    multiply(turn, mirroredTurn(own, mirror), turned);
    for (let l = 0; l < 4; l++) rotation[l][i] = turned[l];
    for (let axis = 0; axis < 3; axis++) {
      const stretch = even ? scale[0] : stretchAlong(own, axis, scale) * mirror[axis];
      scales[axis][i] = (size ? size[axis][i] : 1) * stretch;
    }
  }
  return withColumns(placed, {
    rotation: makeColumn("rotation", rotation),
    scale: makeColumn("vector", scales),
  });
}

function stretchAlong(own: Quaternion, axis: number, scale: Vec3): number {
  const d = rotate(own, [axis === 0 ? 1 : 0, axis === 1 ? 1 : 0, axis === 2 ? 1 : 0]);
  return lengthOf(d[0] * scale[0], d[1] * scale[1], d[2] * scale[2]);
}
