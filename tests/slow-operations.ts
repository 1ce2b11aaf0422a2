/**
 * The slow reference of the field operations: one element at a time in float64, written for reading. Tests hold the
 * kernels against it; nothing else uses it.
 */
import type { Operation } from "../src/core/fields/operation";
import { OPERATIONS, type OperationName } from "../src/core/fields/operations";
import { fromOklab, toOklab } from "../src/core/maths/color";
import type { EaseName } from "../src/core/maths/ease";
import type { FractalOptions } from "../src/core/maths/noise";
import type { Outside, Picture } from "../src/core/maths/picture";
import { hash3, unit24 } from "../src/core/maths/random";
import type { SegmentedTable } from "../src/core/maths/segmented-table";
import { fractalNoise, slowCells, slowSwirl } from "./slow-noise";
import { slowPicture } from "./slow-picture";

type Data = Readonly<Record<string, unknown>> | undefined;

const clip = (x: number) => Math.min(1, Math.max(0, x));

/** Back easing constant for a 10 % overshoot (R. Penner, 2001). */
const BACK = 1.70158;

export function slowEase(name: EaseName, t: number): number {
  switch (name) {
    case "linear":
      return t;
    case "smooth":
      return t * t * (3 - 2 * t);
    case "cosine":
      return (1 - Math.cos(Math.PI * t)) / 2;
    case "in":
      return t ** 3;
    case "out":
      return 1 - (1 - t) ** 3;
    case "in-out":
      return t < 0.5 ? 4 * t ** 3 : 1 - (-2 * t + 2) ** 3 / 2;
    case "overshoot":
      return 1 + (BACK + 1) * (t - 1) ** 3 + BACK * (t - 1) ** 2;
  }
}

/** A response of segments between knots, read as maths/segmented-table.ts describes it. */
function look({ table, knots }: SegmentedTable, lanes: number, read: number): number[] {
  const x = Number.isNaN(read) ? 0 : read;
  const segment = Array.from(table.subarray(0, knots)).filter((knot) => knot <= x).length;
  const [start, per, first, steps] = table.subarray(knots + segment * 4, knots + segment * 4 + 4);
  const place = Math.min(steps, Math.max(0, (x - start) * per));
  const entry = Math.min(steps - 1, Math.floor(place));
  const at = knots + (knots + 1) * 4 + (first + entry) * lanes;
  return Array.from(
    { length: lanes },
    (_, l) => table[at + l] + (place - entry) * (table[at + lanes + l] - table[at + l]),
  );
}

const SLOW: Partial<Record<OperationName, (x: readonly number[], data: Data) => number[]>> = {
  multiplyAdd: ([a, b, c]) => [Math.fround(a * b) + c],
  sineCosine: ([a]) => [Math.sin(a), Math.cos(a)],
  turnPair: ([u, v, angle]) => [
    u * Math.cos(angle) - v * Math.sin(angle),
    u * Math.sin(angle) + v * Math.cos(angle),
  ],
  bendPair: ([on, side, angle], data) => {
    const length = data?.length as number;
    const within = Math.min(length, Math.max(0, on));
    const turned = (angle * within) / length;
    // An arc of the length `within` and the radius within ÷ turned, from the axis on; then straight on along its end.
    const radius = turned === 0 ? 0 : within / turned;
    const [s, c] = [Math.sin(turned), Math.cos(turned)];
    const rest = on - within;
    return [
      (turned === 0 ? within : radius * s) + rest * c - side * s,
      radius * (1 - c) + rest * s + side * c,
    ];
  },
  ease: ([a], data) => [slowEase(data?.ease as EaseName, clip(a))],
  random: ([id], data) => [unit24(hash3(data?.seed as number, id, data?.channel as number))],
  noise: ([x, y, z], data) => [
    fractalNoise(x, y, z, data?.w as number, data?.seed as number, data as unknown as FractalOptions),
  ],
  noise3: ([x, y, z], data) =>
    ((data?.seeds ?? []) as number[]).map((seed) =>
      fractalNoise(x, y, z, data?.w as number, seed, data as unknown as FractalOptions),
    ),
  cells: (place, data) =>
    slowCells(place, data?.seed as number, data?.w as number, data?.period as number, data?.jitter as number),
  swirl: (place, data) =>
    slowSwirl(place, data?.seeds as number[], data?.w as number, data as unknown as FractalOptions),
  picture: ([u, v], data) =>
    slowPicture(data?.picture as Picture, u, v, data?.outside as Outside, data?.smooth === true),
  gradient: ([a], data) => look(data as unknown as SegmentedTable, 4, a),
  lookup: ([a], data) => look(data as unknown as SegmentedTable, 1, a),
  eulerToRotation: ([x, y, z]) => {
    const [cx, cy, cz] = [x, y, z].map((a) => Math.cos(a / 2));
    const [sx, sy, sz] = [x, y, z].map((a) => Math.sin(a / 2));
    return [
      sx * cy * cz + cx * sy * sz,
      cx * sy * cz - sx * cy * sz,
      cx * cy * sz + sx * sy * cz,
      cx * cy * cz - sx * sy * sz,
    ];
  },
  multiplyRotations: ([ax, ay, az, aw, bx, by, bz, bw]) => [
    aw * bx + ax * bw + ay * bz - az * by,
    aw * by - ax * bz + ay * bw + az * bx,
    aw * bz + ax * by - ay * bx + az * bw,
    aw * bw - ax * bx - ay * by - az * bz,
  ],
  partOfRotation: ([ax, ay, az, aw, t]) => {
    const flip = aw < 0 ? -1 : 1;
    const sine = Math.hypot(ax, ay, az);
    const half = Math.atan2(sine, aw * flip) * t;
    const s = sine > 1e-12 ? (flip * Math.sin(half)) / sine : 0;
    return [ax * s, ay * s, az * s, Math.cos(half)];
  },
  rotateVector: ([qx, qy, qz, qw, vx, vy, vz]) => {
    const tx = 2 * (qy * vz - qz * vy);
    const ty = 2 * (qz * vx - qx * vz);
    const tz = 2 * (qx * vy - qy * vx);
    return [
      vx + qw * tx + qy * tz - qz * ty,
      vy + qw * ty + qz * tx - qx * tz,
      vz + qw * tz + qx * ty - qy * tx,
    ];
  },
  toOklab: ([r, g, b]) => toOklab(r, g, b),
  fromOklab: ([l, a, b]) => fromOklab(l, a, b),
  mixColors: ([ar, ag, ab, br, bg, bb, t]) => {
    const from = toOklab(ar, ag, ab);
    const to = toOklab(br, bg, bb);
    return fromOklab(...(from.map((v, i) => v + t * (to[i] - v)) as [number, number, number]));
  },
};

/** All outputs of an operation for one element. */
export function slowly(op: OperationName, inputs: readonly number[], data?: Data): number[] {
  const slow = SLOW[op];
  if (slow) return slow(inputs, data);
  const operation: Operation = OPERATIONS[op];
  if (!operation.fold) throw new Error(`There is no slow form of "${op}".`);
  return [operation.fold(...inputs)];
}
