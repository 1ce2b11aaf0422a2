/**
 * Unit quaternions (x, y, z, w), right-handed, Hamilton product, column vectors.
 * Functions that serve columns write into a caller-owned target at an offset-free position, so hot loops
 * allocate nothing.
 */
import { arcTangent2, cosine, lengthOf, sine } from "./exact";
import { cross, dot, normalise, type Vec3, X_AXIS } from "./vector";

export type Quaternion = readonly [number, number, number, number];
export type MutableQuaternion = [number, number, number, number];

export const IDENTITY: Quaternion = [0, 0, 0, 1];
export const RADIANS = Math.PI / 180;

/** Rotation by `angle` radians about a unit `axis`. */
export function fromAxisAngle(axis: Vec3, angle: number): Quaternion {
  const s = sine(angle / 2);
  return [axis[0] * s, axis[1] * s, axis[2] * s, cosine(angle / 2)];
}

/** Euler angles in radians, order XYZ: the matrix is Rx·Ry·Rz (z is applied first). */
export function fromEuler(x: number, y: number, z: number, out: MutableQuaternion): MutableQuaternion {
  const cx = cosine(x / 2);
  const sx = sine(x / 2);
  const cy = cosine(y / 2);
  const sy = sine(y / 2);
  const cz = cosine(z / 2);
  const sz = sine(z / 2);
  out[0] = sx * cy * cz + cx * sy * sz;
  out[1] = cx * sy * cz - sx * cy * sz;
  out[2] = cx * cy * sz + sx * sy * cz;
  out[3] = cx * cy * cz - sx * sy * sz;
  return out;
}

/** a ∘ b: b is applied first. */
export function multiply(a: Quaternion, b: Quaternion, out: MutableQuaternion): MutableQuaternion {
  const [ax, ay, az, aw] = a;
  const [bx, by, bz, bw] = b;
  out[0] = aw * bx + ax * bw + ay * bz - az * by;
  out[1] = aw * by - ax * bz + ay * bw + az * bx;
  out[2] = aw * bz + ax * by - ay * bx + az * bw;
  out[3] = aw * bw - ax * bx - ay * by - az * bz;
  return out;
}

/** The vector `v` turned by `q`. */
export function rotate(q: Quaternion, v: Vec3): Vec3 {
  const [x, y, z, w] = q;
  const tx = 2 * (y * v[2] - z * v[1]);
  const ty = 2 * (z * v[0] - x * v[2]);
  const tz = 2 * (x * v[1] - y * v[0]);
  return [v[0] + w * tx + y * tz - z * ty, v[1] + w * ty + z * tx - x * tz, v[2] + w * tz + x * ty - y * tx];
}

/**
 * Rotation whose matrix has the given orthonormal columns (where x, y and z go).
 * Largest-component branch, so half turns are exact.
 */
export function fromBasis(x: Vec3, y: Vec3, z: Vec3): Quaternion {
  const trace = x[0] + y[1] + z[2];
  if (trace > 0) {
    const s = 2 * Math.sqrt(trace + 1);
    return [(y[2] - z[1]) / s, (z[0] - x[2]) / s, (x[1] - y[0]) / s, s / 4];
  }
  if (x[0] > y[1] && x[0] > z[2]) {
    const s = 2 * Math.sqrt(1 + x[0] - y[1] - z[2]);
    return [s / 4, (y[0] + x[1]) / s, (z[0] + x[2]) / s, (y[2] - z[1]) / s];
  }
  if (y[1] > z[2]) {
    const s = 2 * Math.sqrt(1 + y[1] - x[0] - z[2]);
    return [(y[0] + x[1]) / s, s / 4, (z[1] + y[2]) / s, (z[0] - x[2]) / s];
  }
  const s = 2 * Math.sqrt(1 + z[2] - x[0] - y[1]);
  return [(z[0] + x[2]) / s, (z[1] + y[2]) / s, s / 4, (x[1] - y[0]) / s];
}

/** The shortest rotation taking unit vector `a` to unit vector `b`; a half turn when they are opposite. */
export function between(a: Vec3, b: Vec3): Quaternion {
  const sum = [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
  // 1 + cos of the angle; of nearly opposite directions their sum tells it without cancelling.
  const near = 1 + dot(a, b);
  const w = near > 1e-3 ? near : (sum[0] * sum[0] + sum[1] * sum[1] + sum[2] * sum[2]) / 2;
  if (w < 1e-30) {
    const side = Math.abs(a[0]) > 0.9 ? ([0, 1, 0] as Vec3) : X_AXIS;
    const axis = normalise(cross(a, side));
    return [axis[0], axis[1], axis[2], 0];
  }
  const c = cross(a, b);
  const length = lengthOf(c[0], c[1], c[2], w);
  return [c[0] / length, c[1] / length, c[2] / length, w / length];
}

/** A named axis of a shape that may be made to point somewhere. */
export type AxisName = "x" | "y" | "z";

/**
 * The rotation that makes the shape's own `axis` point along `direction`, rolled so that a second own axis
 * comes as close as it can to `up` (the top +Y, or the front +Z when the top itself points).
 * `direction` and `up` need not be unit or perpendicular; parallel ones fall back to the shortest rotation.
 */
export function pointing(axis: AxisName, direction: Vec3, up: Vec3): Quaternion {
  const d = normalise(direction);
  const side = cross(up, d);
  if (dot(side, side) < 1e-10) {
    return between(axis === "x" ? X_AXIS : axis === "y" ? [0, 1, 0] : [0, 0, 1], d);
  }
  const s = normalise(side);
  const u = cross(d, s);
  if (axis === "z") return fromBasis(s, u, d);
  if (axis === "y") return fromBasis(s, d, [-u[0], -u[1], -u[2]]);
  return fromBasis(d, u, [-s[0], -s[1], -s[2]]);
}

/**
 * The part `t` of the way from `a` to `b` about one axis at even speed, the shorter way round (K. Shoemake, "Animating
 * rotation with quaternion curves", 1985). `t` may pass 0 and 1.
 */
export function slerp(a: Quaternion, b: Quaternion, t: number): Quaternion {
  const nearness = a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3];
  const sign = nearness < 0 ? -1 : 1;
  const off = lengthOf(b[0] * sign - a[0], b[1] * sign - a[1], b[2] * sign - a[2], b[3] * sign - a[3]);
  const sum = lengthOf(b[0] * sign + a[0], b[1] * sign + a[1], b[2] * sign + a[2], b[3] * sign + a[3]);
  const angle = 2 * arcTangent2(off, sum);
  const whole = sine(angle);
  const [p, q] =
    whole < 1e-9 ? [1 - t, t * sign] : [sine((1 - t) * angle) / whole, (sine(t * angle) * sign) / whole];
  const mixed: Quaternion = [
    a[0] * p + b[0] * q,
    a[1] * p + b[1] * q,
    a[2] * p + b[2] * q,
    a[3] * p + b[3] * q,
  ];
  const size = lengthOf(mixed[0], mixed[1], mixed[2], mixed[3]) || 1;
  return [mixed[0] / size, mixed[1] / size, mixed[2] / size, mixed[3] / size];
}

/** Adds rotation j of lanes to a sum, on the side of the sphere that rotation `near` lies on: q and −q are the same turn. */
export function addTurn(
  sums: { [l: number]: number },
  lanes: readonly ArrayLike<number>[],
  j: number,
  near: number,
): void {
  let along = 0;
  for (let l = 0; l < 4; l++) along += lanes[l][near] * lanes[l][j];
  for (let l = 0; l < 4; l++) sums[l] += along < 0 ? -lanes[l][j] : lanes[l][j];
}

/** Brings the quaternion at `i` of four lanes to unit length. */
export function unitRotation(lanes: readonly { [i: number]: number }[], i: number): void {
  const size = lengthOf(lanes[0][i], lanes[1][i], lanes[2][i], lanes[3][i]) || 1;
  for (const lane of lanes) lane[i] /= size;
}
