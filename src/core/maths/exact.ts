/**
 * Functions that engines of JavaScript round differently, worked out by the kernels in float64: a piece is the same bits
 * in every browser and on the server. What the core needs of `Math` beyond these is exact by IEEE 754.
 */
import { type Kernel, Kernels } from "../kernels/kernels";

let own: Kernels | null = null;

function exactly<A extends number[]>(name: string): (...numbers: A) => number {
  let kernel: Kernel | null = null;
  return (...numbers) => {
    own ??= Kernels.withoutMemory();
    kernel ??= own.kernel(name);
    return kernel(...numbers) as number;
  };
}

/** Radians. */
export const sine = exactly<[x: number]>("sine64");
export const cosine = exactly<[x: number]>("cosine64");
export const tangent = exactly<[x: number]>("tangent64");
export const arcSine = exactly<[x: number]>("arcSine64");
export const arcCosine = exactly<[x: number]>("arcCosine64");
export const arcTangent2 = exactly<[y: number, x: number]>("arcTangent64");
export const exponential = exactly<[x: number]>("exponential64");
export const logarithm = exactly<[x: number]>("logarithm64");
export const power = exactly<[base: number, exponent: number]>("power64");
export const cubeRoot = exactly<[x: number]>("cubeRoot64");

/** √(x² + y² + z² + w²). */
export const lengthOf = (x: number, y: number, z: number, w = 0): number =>
  Math.sqrt(x * x + y * y + z * z + w * w);
