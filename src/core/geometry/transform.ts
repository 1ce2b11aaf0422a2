/** Moving, turning and scaling whole shapes. */

import { tick } from "../cancelling";
import { lengthOf } from "../maths/exact";
import { type MutableQuaternion, multiply, type Quaternion, rotate } from "../maths/quaternion";
import type { Vec3 } from "../maths/vector";
import { type Column, type Domain, makeColumn, makeLanes, withColumns } from "./column";
import { withPoints } from "./mesh";
import { lanesOf, type Shape } from "./shape";

export interface Placement {
  readonly move: Vec3;
  readonly turn: Quaternion;
  readonly scale: Vec3;
}

/**
 * The shape scaled, then turned, then moved. Sites keep rotation and scale of their own: an uneven scale
 * stretches each own axis of a site by as much as it stretches that direction (a shear is not kept).
 */
export function transformShape(shape: Shape, placement: Placement): Shape {
  const { mesh, curves, sites } = shape;
  return {
    ...shape,
    ...(mesh
      ? {
          mesh: turnNormals(
            withPoints(mesh, placePoints(mesh.points, placement)),
            mesh.corners.columns.normal,
            placement,
          ),
        }
      : {}),
    ...(curves ? { curves: { ...curves, points: placePoints(curves.points, placement) } } : {}),
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

/** Normals turn with the mesh; they hold only while the scale is even and not mirrored. */
function turnNormals(
  moved: ReturnType<typeof withPoints>,
  normal: Column | undefined,
  { turn, scale }: Placement,
): ReturnType<typeof withPoints> {
  if (!normal || scale[0] <= 0 || scale[0] !== scale[1] || scale[1] !== scale[2]) return moved;
  const lanes = makeLanes("vector", moved.corners.count);
  for (let c = 0; c < moved.corners.count; c++) {
    const n = rotate(turn, [normal.lanes[0][c], normal.lanes[1][c], normal.lanes[2][c]]);
    for (let l = 0; l < 3; l++) lanes[l][c] = n[l];
  }
  return { ...moved, corners: withColumns(moved.corners, { normal: makeColumn("vector", lanes) }) };
}

function placeSites(sites: Domain, placement: Placement): Domain {
  const { turn, scale } = placement;
  const placed = placePoints(sites, placement);
  const from = lanesOf(sites, "rotation", "rotation").lanes;
  const size = lanesOf(sites, "scale", "vector").lanes;
  const rotation = makeLanes("rotation", sites.count);
  const scales = makeLanes("vector", sites.count);
  const turned: MutableQuaternion = [0, 0, 0, 1];
  const even = scale[0] === scale[1] && scale[1] === scale[2];
  for (let i = 0; i < sites.count; i++) {
    const own: Quaternion = from ? [from[0][i], from[1][i], from[2][i], from[3][i]] : [0, 0, 0, 1];
    tick();
    multiply(turn, own, turned);
    for (let l = 0; l < 4; l++) rotation[l][i] = turned[l];
    for (let axis = 0; axis < 3; axis++) {
      const stretch = even ? scale[0] : stretchAlong(own, axis, scale);
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
