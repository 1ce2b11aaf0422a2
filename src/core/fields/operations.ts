/**
 * What a field program can do, one entry an operation: number of inputs and outputs, and a kernel over one
 * block. Kernels never allocate and write every element of their outputs; inputs and outputs never overlap.
 *
 * Division by zero gives 0 and so does the modulus by zero (a range of no width maps to its start), so one
 * bad number cannot spread; other results that are not finite are caught where a column is written.
 */
import { fromOklab, toOklab } from "../maths/color";
import { type EaseName, ease } from "../maths/ease";
import { type FractalOptions, fractalNoise } from "../maths/noise";
import { linearTable, type Outside, type Picture, samplePicture } from "../maths/picture";
import { hash3, unit24 } from "../maths/random";

/**
 * Registers are float32 and nothing else: a kernel that also saw float64 would run several times slower, as
 * the engine could no longer assume one kind of array.
 */
export type Register = Float32Array;

export interface Operation {
  readonly inputs: number;
  readonly outputs: number;
  readonly run: (
    count: number,
    inputs: readonly Register[],
    outputs: readonly Register[],
    data: Readonly<Record<string, unknown>> | undefined,
  ) => void;
  /** The same for one element in float64: used where constants are folded. */
  readonly fold?: (...inputs: number[]) => number;
}

/** For operations that are seldom in a hot place: one shared loop calls `f`. */
const unary = (f: (a: number) => number): Operation => ({
  inputs: 1,
  outputs: 1,
  fold: f,
  run(count, [a], [out]) {
    for (let i = 0; i < count; i++) out[i] = f(a[i]);
  },
});

const binary = (f: (a: number, b: number) => number): Operation => ({
  inputs: 2,
  outputs: 1,
  fold: f,
  run(count, [a, b], [out]) {
    for (let i = 0; i < count; i++) out[i] = f(a[i], b[i]);
  },
});

/** Filled by the runner, which knows the domain. */
const provided: Operation = {
  inputs: 0,
  outputs: 1,
  run() {
    throw new Error("A provided register has no kernel.");
  },
};

/** x − y⌊x/y⌋ (GLSL 4.60 §8.3); 0 when y is 0. */
export const floorModulo = (x: number, y: number): number => (y === 0 ? 0 : x - y * Math.floor(x / y));

const pingPong = (x: number, length: number): number =>
  length === 0 ? 0 : length - Math.abs(floorModulo(x, 2 * length) - length);

export const OPERATIONS = {
  constant: provided,
  column: provided,
  index: provided,
  count: provided,

  add: {
    inputs: 2,
    outputs: 1,
    fold: (a, b) => a + b,
    run(count, [a, b], [out]) {
      for (let i = 0; i < count; i++) out[i] = a[i] + b[i];
    },
  },
  subtract: {
    inputs: 2,
    outputs: 1,
    fold: (a, b) => a - b,
    run(count, [a, b], [out]) {
      for (let i = 0; i < count; i++) out[i] = a[i] - b[i];
    },
  },
  multiply: {
    inputs: 2,
    outputs: 1,
    fold: (a, b) => a * b,
    run(count, [a, b], [out]) {
      for (let i = 0; i < count; i++) out[i] = a[i] * b[i];
    },
  },
  divide: {
    inputs: 2,
    outputs: 1,
    fold: (a, b) => (b === 0 ? 0 : a / b),
    run(count, [a, b], [out]) {
      for (let i = 0; i < count; i++) out[i] = b[i] === 0 ? 0 : a[i] / b[i];
    },
  },
  power: binary((a, b) => a ** b),
  modulo: binary(floorModulo),
  pingPong: binary(pingPong),
  minimum: binary((a, b) => Math.min(a, b)),
  maximum: {
    inputs: 2,
    outputs: 1,
    fold: (a, b) => Math.max(a, b),
    run(count, [a, b], [out]) {
      for (let i = 0; i < count; i++) out[i] = Math.max(a[i], b[i]);
    },
  },
  arcTangent2: binary((y, x) => Math.atan2(y, x)),
  less: binary((a, b) => (a < b ? 1 : 0)),
  /** The second where the third is above 0.5, else the first. */
  select: {
    inputs: 3,
    outputs: 1,
    fold: (no, yes, when) => (when > 0.5 ? yes : no),
    run(count, [no, yes, when], [out]) {
      for (let i = 0; i < count; i++) out[i] = when[i] > 0.5 ? yes[i] : no[i];
    },
  },

  absolute: unary(Math.abs),
  floor: unary(Math.floor),
  ceiling: unary(Math.ceil),
  /** Halves round up, as in `Math.round`. */
  round: unary(Math.round),
  fraction: unary((a) => a - Math.floor(a)),
  sign: unary(Math.sign),
  squareRoot: unary(Math.sqrt),
  sine: unary(Math.sin),
  cosine: unary(Math.cos),
  tangent: unary(Math.tan),
  /** Radians; beyond −1…1 the nearest end is taken. */
  arcSine: unary((a) => Math.asin(Math.min(1, Math.max(-1, a)))),
  arcCosine: unary((a) => Math.acos(Math.min(1, Math.max(-1, a)))),
  exponential: unary(Math.exp),
  logarithm: unary(Math.log),

  clamp: {
    inputs: 3,
    outputs: 1,
    fold: (a, low, high) => Math.max(low, Math.min(high, a)),
    run(count, [a, low, high], [out]) {
      for (let i = 0; i < count; i++) out[i] = Math.max(low[i], Math.min(high[i], a[i]));
    },
  },
  /** a + t (b − a). */
  mix: {
    inputs: 3,
    outputs: 1,
    fold: (a, b, t) => a + t * (b - a),
    run(count, [a, b, t], [out]) {
      for (let i = 0; i < count; i++) out[i] = a[i] + t[i] * (b[i] - a[i]);
    },
  },
  length3: {
    inputs: 3,
    outputs: 1,
    fold: (x, y, z) => Math.sqrt(x * x + y * y + z * z),
    run(count, [x, y, z], [out]) {
      for (let i = 0; i < count; i++) out[i] = Math.sqrt(x[i] * x[i] + y[i] * y[i] + z[i] * z[i]);
    },
  },

  /** data: ease. The input is clipped to 0…1. */
  ease: {
    inputs: 1,
    outputs: 1,
    run(count, [a], [out], data) {
      const name = data?.ease as EaseName;
      for (let i = 0; i < count; i++) out[i] = ease(name, Math.min(1, Math.max(0, a[i])));
    },
  },

  /** 0 ≤ result < 1 from the element's id; data: seed, channel. */
  random: {
    inputs: 1,
    outputs: 1,
    run(count, [id], [out], data) {
      const seed = data?.seed as number;
      const channel = data?.channel as number;
      for (let i = 0; i < count; i++) out[i] = unit24(hash3(seed, id[i], channel));
    },
  },

  /** Fractal gradient noise of (x, y, z, w); data: seed and FractalOptions. */
  noise: {
    inputs: 4,
    outputs: 1,
    run(count, [x, y, z, w], [out], data) {
      const seed = data?.seed as number;
      const options = data as unknown as FractalOptions;
      for (let i = 0; i < count; i++) out[i] = fractalNoise(x[i], y[i], z[i], w[i], seed, options);
    },
  },

  /** Linear RGBA from a table of `size` entries of four over 0…1, mixed linearly between entries; data: table. */
  gradient: {
    inputs: 1,
    outputs: 4,
    run(count, [a], [r, g, b, alpha], data) {
      const table = data?.table as Float32Array;
      const last = table.length / 4 - 1;
      for (let i = 0; i < count; i++) {
        const at = Math.min(1, Math.max(0, a[i])) * last;
        // NaN compares false with everything; it reads the first entry instead of none.
        const low = at > 0 ? Math.min(last - 1, Math.floor(at)) : 0;
        const t = at > 0 ? at - low : 0;
        const k = low * 4;
        r[i] = table[k] + t * (table[k + 4] - table[k]);
        g[i] = table[k + 1] + t * (table[k + 5] - table[k + 1]);
        b[i] = table[k + 2] + t * (table[k + 6] - table[k + 2]);
        alpha[i] = table[k + 3] + t * (table[k + 7] - table[k + 3]);
      }
    },
  },

  /** Linear RGBA of a picture at u, v (0…1 from its upper left); data: picture, outside, smooth. */
  picture: {
    inputs: 2,
    outputs: 4,
    run(count, [u, v], [r, g, b, alpha], data) {
      const picture = data?.picture as Picture;
      const table = linearTable(picture);
      const read = new Float64Array(4);
      for (let i = 0; i < count; i++) {
        samplePicture(picture, table, u[i], v[i], data?.outside as Outside, data?.smooth === true, read);
        r[i] = read[0];
        g[i] = read[1];
        b[i] = read[2];
        alpha[i] = read[3];
      }
    },
  },

  /** A table of numbers over 0…1, mixed linearly between entries; its ends hold beyond. data: table. */
  lookup: {
    inputs: 1,
    outputs: 1,
    run(count, [a], [out], data) {
      const table = data?.table as Float32Array;
      const last = table.length - 1;
      for (let i = 0; i < count; i++) {
        const at = Math.min(1, Math.max(0, a[i])) * last;
        const low = at > 0 ? Math.min(last - 1, Math.floor(at)) : 0;
        const t = at > 0 ? at - low : 0;
        out[i] = table[low] + t * (table[low + 1] - table[low]);
      }
    },
  },

  /** Quaternion from Euler angles in radians, matrix Rx·Ry·Rz. */
  eulerToRotation: {
    inputs: 3,
    outputs: 4,
    run(count, [x, y, z], [qx, qy, qz, qw]) {
      for (let i = 0; i < count; i++) {
        const cx = Math.cos(x[i] / 2);
        const sx = Math.sin(x[i] / 2);
        const cy = Math.cos(y[i] / 2);
        const sy = Math.sin(y[i] / 2);
        const cz = Math.cos(z[i] / 2);
        const sz = Math.sin(z[i] / 2);
        qx[i] = sx * cy * cz + cx * sy * sz;
        qy[i] = cx * sy * cz - sx * cy * sz;
        qz[i] = cx * cy * sz + sx * sy * cz;
        qw[i] = cx * cy * cz - sx * sy * sz;
      }
    },
  },

  /** Hamilton product a ∘ b: b is applied first. */
  multiplyRotations: {
    inputs: 8,
    outputs: 4,
    run(count, [ax, ay, az, aw, bx, by, bz, bw], [x, y, z, w]) {
      for (let i = 0; i < count; i++) {
        x[i] = aw[i] * bx[i] + ax[i] * bw[i] + ay[i] * bz[i] - az[i] * by[i];
        y[i] = aw[i] * by[i] - ax[i] * bz[i] + ay[i] * bw[i] + az[i] * bx[i];
        z[i] = aw[i] * bz[i] + ax[i] * by[i] - ay[i] * bx[i] + az[i] * bw[i];
        w[i] = aw[i] * bw[i] - ax[i] * bx[i] - ay[i] * by[i] - az[i] * bz[i];
      }
    },
  },

  /** The part `t` of a turn: the same axis, t times the angle (t may pass 1). */
  partOfRotation: {
    inputs: 5,
    outputs: 4,
    run(count, [ax, ay, az, aw, t], [x, y, z, w]) {
      for (let i = 0; i < count; i++) {
        const flip = aw[i] < 0 ? -1 : 1;
        const sine = Math.sqrt(ax[i] * ax[i] + ay[i] * ay[i] + az[i] * az[i]);
        const half = Math.atan2(sine, aw[i] * flip) * t[i];
        const s = sine > 1e-12 ? (flip * Math.sin(half)) / sine : 0;
        x[i] = ax[i] * s;
        y[i] = ay[i] * s;
        z[i] = az[i] * s;
        w[i] = Math.cos(half);
      }
    },
  },

  /** A vector turned by a quaternion: inputs qx qy qz qw, vx vy vz. */
  rotateVector: {
    inputs: 7,
    outputs: 3,
    run(count, [qx, qy, qz, qw, vx, vy, vz], [x, y, z]) {
      for (let i = 0; i < count; i++) {
        const tx = 2 * (qy[i] * vz[i] - qz[i] * vy[i]);
        const ty = 2 * (qz[i] * vx[i] - qx[i] * vz[i]);
        const tz = 2 * (qx[i] * vy[i] - qy[i] * vx[i]);
        x[i] = vx[i] + qw[i] * tx + qy[i] * tz - qz[i] * ty;
        y[i] = vy[i] + qw[i] * ty + qz[i] * tx - qx[i] * tz;
        z[i] = vz[i] + qw[i] * tz + qx[i] * ty - qy[i] * tx;
      }
    },
  },

  toOklab: {
    inputs: 3,
    outputs: 3,
    run(count, [r, g, b], [l, x, y]) {
      for (let i = 0; i < count; i++) [l[i], x[i], y[i]] = toOklab(r[i], g[i], b[i]);
    },
  },
  fromOklab: {
    inputs: 3,
    outputs: 3,
    run(count, [l, x, y], [r, g, b]) {
      for (let i = 0; i < count; i++) [r[i], g[i], b[i]] = fromOklab(l[i], x[i], y[i]);
    },
  },

  /** Two linear RGB colours mixed by t in Oklab, so that hues between them stay clean: r g b, r g b, t. */
  mixColors: {
    inputs: 7,
    outputs: 3,
    run(count, [ar, ag, ab, br, bg, bb, t], [r, g, b]) {
      for (let i = 0; i < count; i++) {
        const from = toOklab(ar[i], ag[i], ab[i]);
        const to = toOklab(br[i], bg[i], bb[i]);
        const k = t[i];
        const mixed = fromOklab(
          from[0] + k * (to[0] - from[0]),
          from[1] + k * (to[1] - from[1]),
          from[2] + k * (to[2] - from[2]),
        );
        r[i] = mixed[0];
        g[i] = mixed[1];
        b[i] = mixed[2];
      }
    },
  },
} as const satisfies Record<string, Operation>;

export type OperationName = keyof typeof OPERATIONS;
