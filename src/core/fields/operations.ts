/**
 * What a field program can do, one entry an operation: number of inputs and outputs, and the kernel that does it over
 * one block of registers. The kernels themselves are in kernels/assembly.
 *
 * Division by zero gives 0 and so does the modulus by zero (a range of no width maps to its start), so one
 * bad number cannot spread; other results that are not finite are caught where a column is written.
 */

import type { ColumnKind, Lane } from "../geometry/column";
import { premultiplied } from "../geometry/premultiplied";
import { addressOf } from "../kernels/arena";
import { BLOCK, fixedAt, type Operand } from "../kernels/job";
import { resident } from "../kernels/resident";
import { EASE_KERNELS, type EaseName } from "../maths/ease";
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
import { linearTable, type Outside, PICTURE_KERNELS, type Picture } from "../maths/picture";
import type { LazyInside } from "../spatial/inside";
import { ASKING } from "./asking";
import type { Data, Operation, Room, StepData } from "./operation";

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

/** x − y⌊x/y⌋ (GLSL 4.60 §8.3), nearer to 0 than y in float32 too; 0 when y is 0. */
function floorModulo(x: number, y: number): number {
  if (y === 0) return 0;
  const rest = x - y * Math.floor(x / y);
  const within = rest * y < 0 ? rest + y : rest;
  return Math.abs(Math.fround(within)) >= Math.abs(Math.fround(y)) ? nextToZero(y) : within;
}

const bits = new Int32Array(1);
const float = new Float32Array(bits.buffer);

/** The float32 number beside this one, nearer to 0. */
function nextToZero(x: number): number {
  float[0] = x;
  bits[0] -= 1;
  return float[0];
}

const pingPong = (x: number, length: number): number =>
  length === 0 ? 0 : length - Math.abs(floorModulo(x, 2 * length) - length);

/** How many components a surface carries, their addresses, and whether they are of corners and times their alpha. */
function carriedBySurface(data: StepData | undefined, room: Room): number[] {
  const kind = (data?.kind ?? "vector") as ColumnKind;
  const given = data?.carried as readonly Lane[];
  const lanes = premultiplied({ kind, lanes: given });
  return [
    Math.min(4, lanes.length),
    ...[0, 1, 2, 3].map((l) => (lanes[l] ? placeOf(lanes[l], room) : 0)),
    data?.byCorner === true ? 1 : 0,
    lanes === given ? 0 : 1,
  ];
}

export const OPERATIONS = {
  constant: provided,
  column: provided,
  index: provided,
  count: provided,
  /** The element's id, an integer in the register's bits: for what tells elements apart, not for arithmetic. */
  elementId: provided,

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
  fraction: unary("fraction", (a) => floorModulo(a, 1)),
  sign: unary("sign", Math.sign),
  squareRoot: unary("squareRoot", Math.sqrt),
  sine: unary("sine", sine),
  cosine: unary("cosine", cosine),
  /** Both of one angle. */
  sineCosine: several(1, 2, "sineCosine"),
  /** (u, v) turned by an angle, from u towards v. */
  turnPair: several(3, 2, "turnPair"),
  /** How far a place goes with a lattice; data: table, rows (along all axes together). See geometry/lattice.ts. */
  latticeShift: {
    inputs: 3,
    outputs: 3,
    calls: (inputs, outputs, data, { place, spare }) => [
      {
        kernel: "latticeShift",
        operands: [...outputs, spare(Math.ceil(((data?.rows as number) * 8) / BLOCK)), ...inputs],
        numbers: [place(data?.table as Float32Array)],
      },
    ],
  },
  /** A place along an axis and beside it, bent by an angle over a length; data: length. See kernels/assembly/bending.ts. */
  bendPair: {
    inputs: 3,
    outputs: 2,
    calls: (inputs, outputs, data) => [
      { kernel: "bendPair", operands: [...outputs, ...inputs], numbers: [data?.length as number] },
    ],
  },
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
    calls: ([a], [out], data) => [
      { kernel: EASE_KERNELS[data?.ease as EaseName], operands: [out, a], numbers: [] },
    ],
  },

  /** 0 ≤ result < 1 from `elementId`; data: seed, channel. */
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

  /** Linear RGBA of a response of colours (maths/segmented-table.ts); data: table and knots. */
  gradient: {
    inputs: 1,
    outputs: 4,
    kernel: "gradient",
    parameters: tableOf,
  },

  /** A number of a response of numbers; data: table and knots. */
  lookup: {
    inputs: 1,
    outputs: 1,
    kernel: "lookup",
    parameters: tableOf,
  },

  /** Linear RGBA of a picture at u, v (0…1 from its upper left); data: picture, outside, smooth. */
  picture: {
    inputs: 2,
    outputs: 4,
    calls([u, v], outputs, data) {
      const picture = data?.picture as Picture;
      const { samples, width, height } = picture;
      const wide = samples instanceof Uint16Array ? 1 : 0;
      const smooth = data?.smooth === true ? 1 : 0;
      return [
        {
          kernel: PICTURE_KERNELS[data?.outside as Outside],
          operands: [...outputs, u, v],
          numbers: [resident(samples), wide, resident(linearTable(picture)), width, height, smooth],
        },
      ];
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
      const seed = data?.seed as number;
      const { before, after, blend } = stepsOf(seed, data?.w as number, data?.period as number);
      return [data?.jitter as number, seed, before, after, blend];
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
   * The closest place on a surface to (x, y, z): distance, place, −1, and up to four components of what it carries there;
   * data: surface (the address of its table), most (units; what is further away need not be the closest), carried (lanes), kind,
   * byCorner.
   */
  closest: {
    inputs: 3,
    outputs: 9,
    calls: (inputs, outputs, data, room) => [
      {
        kernel: "closestOnSurface",
        operands: [...outputs, room.spare(STACK_WORDS), ...inputs],
        numbers: [data?.surface as number, data?.most as number, ...carriedBySurface(data, room)],
      },
    ],
  },
  /**
   * Where a ray from (x, y, z) along (dx, dy, dz) meets a surface: 1 or 0, distance, place, facing, and up to four components
   * of what it carries there; what misses has 0 and its own place; data: surface (the address of its table), behind, most, bothSides,
   * carried (lanes), kind, byCorner.
   */
  castRay: {
    inputs: 6,
    outputs: 12,
    calls: (inputs, outputs, data, room) => [
      {
        kernel: "raysOnSurface",
        operands: [...outputs, room.spare(STACK_WORDS), ...inputs],
        numbers: [
          data?.surface as number,
          data?.behind as number,
          data?.most as number,
          data?.bothSides === true ? 1 : 0,
          ...carriedBySurface(data, room),
        ],
      },
    ],
  },
  /**
   * What touches a surface on its way from (was) to (place): distance and closest place, where they are within reach of the way; 1 or 0 for
   * going through, where, and the facing there; data: surface (the address of its table), thickness.
   */
  touch: {
    inputs: 6,
    outputs: 11,
    calls: (inputs, outputs, data, room) => [
      {
        kernel: "touchSurface",
        operands: [...outputs, room.spare(STACK_WORDS), ...inputs],
        numbers: [data?.surface as number, data?.thickness as number],
      },
    ],
  },
  /**
   * The nearest place on curves to (x, y, z): distance, place, direction, part of its curve's length, the curve's number;
   * data: curves (the address of their table), pieces (three lanes).
   */
  nearCurve: {
    inputs: 3,
    outputs: 9,
    calls: (inputs, outputs, data, room) => {
      const pieces = data?.pieces as readonly Float32Array[];
      return [
        {
          kernel: "nearestOnCurves",
          operands: [...outputs, room.spare(STACK_WORDS), ...inputs],
          numbers: [data?.curves as number, pieces[0].length, ...pieces.map(({ byteOffset }) => byteOffset)],
        },
      ];
    },
  },
  /** 1 where (x, y, z) lies inside of a closed mesh, else 0; data: inside. */
  within: {
    inputs: 3,
    outputs: 1,
    kernel: "insideSurface",
    parameters: (data, { place }) => [place(((data as StepData).inside as LazyInside).table())],
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

  /**
   * A unit direction mixed of those that the k nearest points of a grid have, and how far the nearest is; data: grid (its address), k,
   * vectors (three lanes in the memory).
   */
  blendNearest: {
    inputs: 4,
    outputs: 4,
    calls([x, y, z, self], outputs, data, room) {
      const k = data?.k as number;
      const [distances, numbers] = [room.spare(k), room.spare(k)];
      const grid = fixedAt(data?.grid as number);
      const vectors = ((data as StepData).vectors as readonly Lane[]).map((lane) =>
        fixedAt(addressOf(lane) as number),
      );
      return [
        {
          kernel: "gridNearest",
          operands: [distances, numbers, x, y, z, self, grid],
          numbers: [k, 0, Number.POSITIVE_INFINITY],
        },
        { kernel: "gridBlend", operands: [...outputs, distances, numbers, ...vectors], numbers: [k] },
      ];
    },
  },

  ...ASKING,

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

/** Address of the step's table and how many knots it has. */
function tableOf(data: Data, { place }: Room): readonly number[] {
  return [place(data?.table as Float32Array), data?.knots as number];
}

/** Words of the stack on which branches of a surface's tree wait: three for each level and two numbers each, for any mesh there is room for. */
const STACK_WORDS = 96;

/** Where kernels read a lane of numbers. */
const placeOf = (lane: Lane, room: Room): number =>
  (lane instanceof Float32Array ? addressOf(lane) : null) ?? room.place(Float32Array.from(lane));
