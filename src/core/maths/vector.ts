/** Plain three-component vectors for single values; columns of many elements never use them. */
import { lengthOf } from "./exact";

export type Vec3 = readonly [number, number, number];

export const X_AXIS: Vec3 = [1, 0, 0];
export const Y_AXIS: Vec3 = [0, 1, 0];
export const Z_AXIS: Vec3 = [0, 0, 1];

export const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

/** a + b × times. */
export const plus = (a: Vec3, b: Vec3, times = 1): Vec3 => [
  a[0] + b[0] * times,
  a[1] + b[1] * times,
  a[2] + b[2] * times,
];

export const minus = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];

export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** Unit vector along `a`; a zero vector stays zero. */
export const normalise = (a: Vec3): Vec3 => {
  const length = lengthOf(a[0], a[1], a[2]);
  return length > 0 ? [a[0] / length, a[1] / length, a[2] / length] : [0, 0, 0];
};

/** A unit vector across a unit direction: of +x and +z the one that is less along it, without what of it is. */
export function anyAcross(direction: Vec3): Vec3 {
  const from = Math.abs(direction[0]) < 0.9 ? X_AXIS : Z_AXIS;
  const share = dot(from, direction);
  return normalise(from.map((v, a) => v - direction[a] * share) as unknown as Vec3);
}

/** Two directions square to an axis and to each other, x × y = axis: +x and −z for one that points up. */
export function besides(axis: Vec3): readonly [Vec3, Vec3] {
  const along = normalise(axis);
  const across = anyAcross(along);
  return [across, cross(along, across)];
}
