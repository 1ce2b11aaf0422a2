/**
 * What a field program can do, one entry an operation: number of inputs and outputs, and the kernel that does it over
 * one block of registers. The kernels themselves are in kernels/assembly.
 *
 * Division by zero gives 0 and so does the modulus by zero (a range of no width maps to its start), so one
 * bad number cannot spread; other results that are not finite are caught where a column is written.
 */

import type { AlongCurves } from "../geometry/along-curves";
import type { Lane } from "../geometry/column";
import { fixedAt, type KernelCall, type Operand, type ScriptCall } from "../kernels/job";
import { resident } from "../kernels/resident";
import { EASES, type EaseName } from "../maths/ease";
import {
  arcCosine,
  arcSine,
  arcTangent2,
  cosine,
  exponential,
  logarithm,
  power,
  sine,
  tangent,
} from "../maths/exact";
import { type FractalOptions, latticesOf, stepsOf } from "../maths/noise";
import { linearTable, OUTSIDE, type Outside, type Picture } from "../maths/picture";
import type { HashGrid } from "../spatial/hash-grid";
import type { LazyInside } from "../spatial/inside";
import type { SurfaceTree } from "../spatial/surface-tree";

/** Settings of a step that are not fields: tables, seeds, names. `key` tells equal settings apart cheaply. */
export interface StepData {
  readonly key: string;
  /** Lanes in the kernels' memory that the step reads besides those of the elements. */
  readonly lanes?: readonly Lane[];
  readonly [name: string]: unknown;
}

type Data = StepData | undefined;

/** What a program gives to its steps. */
export interface Room {
  /** Puts a table where kernels can read it and gives its address. */
  readonly place: (table: Float32Array) => number;
  /** So many numbers for each element of a block, for a step's own use. */
  readonly spare: (width: number) => Operand;
}

export interface Operation {
  readonly inputs: number;
  readonly outputs: number;
  /** Name of the kernel: called with the count, the addresses of outputs and inputs, and the parameters. */
  readonly kernel?: string;
  /** Parameters after the addresses, worked out once a program: seeds, choices, addresses of tables. */
  readonly parameters?: (data: Data, room: Room) => readonly number[];
  /** In place of one kernel: several, or none. */
  readonly calls?: (
    inputs: readonly Operand[],
    outputs: readonly Operand[],
    data: Data,
    room: Room,
  ) => readonly (KernelCall | ScriptCall)[];
  /** The same for one element in float64: used where constants are folded. */
  readonly fold?: (...inputs: number[]) => number;
}

const unary = (kernel: string, fold: (a: number) => number): Operation => ({
  inputs: 1,
  outputs: 1,
  kernel,
  fold,
});
const binary = (kernel: string, fold: (a: number, b: number) => number): Operation => ({
  inputs: 2,
  outputs: 1,
  kernel,
  fold,
});
const ternary = (kernel: string, fold: (a: number, b: number, c: number) => number): Operation => ({
  inputs: 3,
  outputs: 1,
  kernel,
  fold,
});
const several = (inputs: number, outputs: number, kernel: string): Operation => ({ inputs, outputs, kernel });

/** Filled by the runner, which knows the domain. */
const provided: Operation = { inputs: 0, outputs: 1 };

/** x − y⌊x/y⌋ (GLSL 4.60 §8.3); 0 when y is 0. */
const floorModulo = (x: number, y: number): number => (y === 0 ? 0 : x - y * Math.floor(x / y));

const pingPong = (x: number, length: number): number =>
  length === 0 ? 0 : length - Math.abs(floorModulo(x, 2 * length) - length);

export const OPERATIONS = {
  constant: provided,
  column: provided,
  index: provided,
  count: provided,

  add: binary("add", (a, b) => a + b),
  subtract: binary("subtract", (a, b) => a - b),
  multiply: binary("multiply", (a, b) => a * b),
  divide: binary("divide", (a, b) => (b === 0 ? 0 : a / b)),
  power: binary("power", power),
  modulo: binary("modulo", floorModulo),
  pingPong: binary("pingPong", pingPong),
  minimum: binary("minimum", Math.min),
  maximum: binary("maximum", Math.max),
  arcTangent2: binary("arcTangent2", arcTangent2),
  less: binary("less", (a, b) => (a < b ? 1 : 0)),
  /** The second where the third is above 0.5, else the first. */
  select: ternary("select", (no, yes, when) => (when > 0.5 ? yes : no)),

  absolute: unary("absolute", Math.abs),
  floor: unary("floor", Math.floor),
  ceiling: unary("ceiling", Math.ceil),
  /** Halves round up, as in `Math.round`. */
  round: unary("round", Math.round),
  fraction: unary("fraction", (a) => a - Math.floor(a)),
  sign: unary("sign", Math.sign),
  squareRoot: unary("squareRoot", Math.sqrt),
  sine: unary("sine", sine),
  cosine: unary("cosine", cosine),
  /** Both of one angle. */
  sineCosine: several(1, 2, "sineCosine"),
  tangent: unary("tangent", tangent),
  /** Radians; beyond −1…1 the nearest end is taken. */
  arcSine: unary("arcSine", (a) => arcSine(Math.min(1, Math.max(-1, a)))),
  arcCosine: unary("arcCosine", (a) => arcCosine(Math.min(1, Math.max(-1, a)))),
  exponential: unary("exponential", exponential),
  logarithm: unary("logarithm", logarithm),

  clamp: ternary("clamp", (a, low, high) => Math.max(Math.min(a, high), low)),
  /** a b + c, rounded after each step: never other bits than from two instructions. */
  multiplyAdd: ternary("multiplyAdd", (a, b, c) => a * b + c),
  /** a + t (b − a). */
  mix: ternary("mix", (a, b, t) => a + t * (b - a)),
  length3: ternary("length3", (x, y, z) => Math.sqrt(x * x + y * y + z * z)),

  /** data: ease. The input is clipped to 0…1. */
  ease: {
    inputs: 1,
    outputs: 1,
    kernel: "ease",
    parameters: (data) => [EASES.indexOf(data?.ease as EaseName)],
  },

  /** 0 ≤ result < 1 from the element's id; data: seed, channel. */
  random: {
    inputs: 1,
    outputs: 1,
    kernel: "random",
    parameters: (data) => [data?.seed as number, data?.channel as number],
  },

  /** Fractal gradient noise at (x, y, z); data: seed, w and FractalOptions. */
  noise: {
    inputs: 3,
    outputs: 1,
    calls([x, y, z], [out], data) {
      const lattices = latticesOf(data?.seed as number, data?.w as number, data as unknown as FractalOptions);
      return [
        { kernel: "fill", operands: [out], numbers: [0] },
        ...lattices.map(({ frequency, weight, time, seed }) => ({
          kernel: "noiseLattice",
          operands: [out, x, y, z],
          numbers: [frequency, weight, time, seed],
        })),
      ];
    },
  },

  /** Three of them at the same places, for less than each by itself; data: three seeds, w and FractalOptions. */
  noise3: {
    inputs: 3,
    outputs: 3,
    calls(inputs, outputs, data) {
      const options = data as unknown as FractalOptions;
      const seeds = data?.seeds as readonly number[];
      const [first, second, third] = seeds.map((seed) => latticesOf(seed, data?.w as number, options));
      return [
        ...outputs.map((out) => ({ kernel: "fill", operands: [out], numbers: [0] })),
        ...first.map(({ frequency, weight, time, seed }, i) => ({
          kernel: "noiseLattice3",
          operands: [...outputs, ...inputs],
          numbers: [frequency, weight, time, seed, second[i].seed, third[i].seed],
        })),
      ];
    },
  },

  /** Linear RGBA from a table of entries of four over 0…1, mixed linearly between entries; data: table. */
  gradient: {
    inputs: 1,
    outputs: 4,
    kernel: "gradient",
    parameters: (data, room) => tableOf(data, room, 4),
  },

  /** A table of numbers over 0…1, mixed linearly between entries; its ends hold beyond. data: table. */
  lookup: {
    inputs: 1,
    outputs: 1,
    kernel: "lookup",
    parameters: (data, room) => tableOf(data, room, 1),
  },

  /** Linear RGBA of a picture at u, v (0…1 from its upper left); data: picture, outside, smooth. */
  picture: {
    inputs: 2,
    outputs: 4,
    kernel: "picture",
    parameters(data) {
      const picture = data?.picture as Picture;
      const { samples, width, height } = picture;
      const wide = samples instanceof Uint16Array ? 1 : 0;
      const outside = OUTSIDE.indexOf(data?.outside as Outside);
      const smooth = data?.smooth === true ? 1 : 0;
      return [resident(samples), wide, resident(linearTable(picture)), width, height, outside, smooth];
    },
  },

  /**
   * Cellular noise at (x, y, z): distances to the nearest and the second nearest point, a number of the nearest one's
   * cell; data: seed, w, period and jitter.
   */
  cells: {
    inputs: 3,
    outputs: 3,
    kernel: "cells",
    parameters(data) {
      const { before, after, blend } = stepsOf(
        data?.seed as number,
        data?.w as number,
        data?.period as number,
      );
      return [data?.jitter as number, before, after, blend];
    },
  },

  /** Curl of three fractal gradient noises at (x, y, z); data: three seeds, w and FractalOptions. */
  swirl: {
    inputs: 3,
    outputs: 3,
    calls(inputs, outputs, data) {
      const options = data as unknown as FractalOptions;
      const seeds = data?.seeds as readonly number[];
      const turned = (list: readonly Operand[], by: number) => [...list.slice(by), ...list.slice(0, by)];
      return [
        ...outputs.map((out) => ({ kernel: "fill", operands: [out], numbers: [0] })),
        // A potential along each axis makes the other two components; the axes take turns.
        ...seeds.flatMap((seed, axis) =>
          latticesOf(seed, data?.w as number, options).map(({ frequency, weight, time, seed }) => ({
            kernel: "swirlLattice",
            operands: [...turned(outputs, axis).slice(0, 2), ...turned(inputs, axis)],
            numbers: [frequency, weight, time, seed],
          })),
        ),
      ];
    },
  },

  /**
   * The nth nearest point of a grid to (x, y, z), itself left out by its number when `own`: distance, place, number;
   * data: grid (its address), nth, own.
   */
  nearest: {
    inputs: 4,
    outputs: 5,
    calls([x, y, z, self], outputs, data, room) {
      const nth = data?.nth as number;
      const [distances, numbers] = [room.spare(nth), room.spare(nth)];
      const grid = fixedAt(data?.grid as number);
      const own = data?.own === true ? 1 : 0;
      return [
        {
          kernel: "gridNearest",
          operands: [distances, numbers, x, y, z, self, grid],
          numbers: [nth, own, Number.POSITIVE_INFINITY],
        },
        { kernel: "gridPick", operands: [...outputs, distances, numbers, x, y, z, grid], numbers: [nth] },
      ];
    },
  },

  /** The closest place on a surface to (x, y, z): distance, place, −1; data: tree. */
  closest: {
    inputs: 3,
    outputs: 5,
    calls(inputs, outputs, data) {
      const tree = data?.tree as SurfaceTree;
      const run: ScriptCall["run"] = (floats, addresses, count) => {
        const [distance, ox, oy, oz, number, x, y, z] = addresses.map((address) => address / 4);
        for (let i = 0; i < count; i++) {
          const found = tree.closest(floats[x + i], floats[y + i], floats[z + i]);
          floats[distance + i] = found?.distance ?? 0;
          floats[ox + i] = found?.x ?? floats[x + i];
          floats[oy + i] = found?.y ?? floats[y + i];
          floats[oz + i] = found?.z ?? floats[z + i];
          floats[number + i] = -1;
        }
      };
      return [{ run, operands: [...outputs, ...inputs] }];
    },
  },

  /** How many points of a grid are nearer to (x, y, z) than `reach`, itself left out by its number when `own`; data: grid, reach, own. */
  countNear: {
    inputs: 4,
    outputs: 1,
    calls(inputs, outputs, data) {
      const grid = data?.grid as HashGrid;
      const run: ScriptCall["run"] = (floats, addresses, count) => {
        const [out, x, y, z, self] = addresses.map((address) => address / 4);
        for (let i = 0; i < count; i++) {
          const own = data?.own === true ? floats[self + i] : -1;
          let found = 0;
          grid.within(floats[x + i], floats[y + i], floats[z + i], data?.reach as number, (point) => {
            if (point !== own) found++;
            return undefined;
          });
          floats[out + i] = found;
        }
      };
      return [{ run, operands: [...outputs, ...inputs] }];
    },
  },

  /** 1 where (x, y, z) lies inside of a closed mesh, else 0; data: inside. */
  within: {
    inputs: 3,
    outputs: 1,
    calls(inputs, outputs, data) {
      const inside = data?.inside as LazyInside;
      const run: ScriptCall["run"] = (floats, addresses, count) => {
        const [out, x, y, z] = addresses.map((address) => address / 4);
        for (let i = 0; i < count; i++)
          floats[out + i] = inside.contains(floats[x + i], floats[y + i], floats[z + i]) ? 1 : 0;
      };
      return [{ run, operands: [...outputs, ...inputs] }];
    },
  },

  /**
   * Where a ray from (x, y, z) along (dx, dy, dz) meets a surface: 1 or 0, distance, place, facing; what misses has distance
   * and facing 0 and its own place; data: tree, most, bothSides.
   */
  castRay: {
    inputs: 6,
    outputs: 8,
    calls(inputs, outputs, data) {
      const tree = data?.tree as SurfaceTree;
      const run: ScriptCall["run"] = (floats, addresses, count) => {
        const [met, distance, ox, oy, oz, fx, fy, fz, x, y, z, dx, dy, dz] = addresses.map((a) => a / 4);
        const most = data?.most as number;
        const both = data?.bothSides === true;
        for (let i = 0; i < count; i++) {
          const [px, py, pz] = [floats[x + i], floats[y + i], floats[z + i]];
          const hit = tree.meet(px, py, pz, floats[dx + i], floats[dy + i], floats[dz + i], most, both);
          const facing = hit ? tree.facing(hit.faceIndex ?? -1) : null;
          floats[met + i] = hit ? 1 : 0;
          floats[distance + i] = hit?.distance ?? 0;
          floats[ox + i] = hit?.point.x ?? px;
          floats[oy + i] = hit?.point.y ?? py;
          floats[oz + i] = hit?.point.z ?? pz;
          floats[fx + i] = facing?.x ?? 0;
          floats[fy + i] = facing?.y ?? 0;
          floats[fz + i] = facing?.z ?? 0;
        }
      };
      return [{ run, operands: [...outputs, ...inputs] }];
    },
  },

  /** Place and direction at a part of a curve's length; data: along, curve, and the
   * lanes of all points: position, then tangent.
   */
  alongCurve: {
    inputs: 1,
    outputs: 6,
    calls(inputs, outputs, data) {
      const along = data?.along as AlongCurves;
      const lanes = data?.lanes as readonly ArrayLike<number>[];
      const run: ScriptCall["run"] = (floats, addresses, count) => {
        const at = addresses.map((address) => address / 4);
        for (let i = 0; i < count; i++) {
          const { p, q, t } = along.at(data?.curve as number, floats[at[6] + i]);
          for (let o = 0; o < 6; o++) floats[at[o] + i] = lanes[o][p] + (lanes[o][q] - lanes[o][p]) * t;
          const [dx, dy, dz] = [floats[at[3] + i], floats[at[4] + i], floats[at[5] + i]];
          const size = Math.sqrt(dx * dx + dy * dy + dz * dz) || 1;
          for (let o = 3; o < 6; o++) floats[at[o] + i] /= size;
        }
      };
      return [{ run, operands: [...outputs, ...inputs] }];
    },
  },

  /** Quaternion from Euler angles in radians, matrix Rx·Ry·Rz. */
  eulerToRotation: several(3, 4, "eulerToRotation"),
  /** Hamilton product a ∘ b: b is applied first. */
  multiplyRotations: several(8, 4, "multiplyRotations"),
  /** The part `t` of a turn: the same axis, t times the angle (t may pass 1). */
  partOfRotation: several(5, 4, "partOfRotation"),
  /** A vector turned by a quaternion: inputs qx qy qz qw, vx vy vz. */
  rotateVector: several(7, 3, "rotateVector"),

  toOklab: several(3, 3, "toOklab"),
  fromOklab: several(3, 3, "fromOklab"),
  /** Two linear RGB colours mixed by t in Oklab, so that hues between them stay clean: r g b, r g b, t. */
  mixColors: several(7, 3, "mixColors"),
} as const satisfies Record<string, Operation>;

export type OperationName = keyof typeof OPERATIONS;

/** Address of the step's table and the number of its last entry. */
function tableOf(data: Data, { place }: Room, lanes: number): readonly number[] {
  const table = data?.table as Float32Array;
  return [place(table), table.length / lanes - 1];
}
