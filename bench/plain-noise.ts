/**
 * Fractal gradient noise as one would write it in JavaScript to be fast, one place at a time: what the kernels are
 * measured against. The formula and the lattice are theirs.
 */
import { mix32, mixSigned } from "../src/core/maths/random";

/** 6t⁵−15t⁴+10t³. */
const fade = (t: number): number => t * t * t * (t * (t * 6 - 15) + 10);

/** The twelve edge gradients, four of them twice; tables, as branches miss. */
const GRADIENT_X = Float64Array.of(1, -1, 1, -1, 1, -1, 1, -1, 0, 0, 0, 0, 1, 0, -1, 0);
const GRADIENT_Y = Float64Array.of(1, 1, -1, -1, 0, 0, 0, 0, 1, -1, 1, -1, 1, -1, 1, -1);
const GRADIENT_Z = Float64Array.of(0, 0, 0, 0, 1, 1, -1, -1, 1, 1, -1, -1, 0, 1, 0, -1);

/** Odd multipliers spread neighbouring lattice numbers over 32 bits before the final mix. */
const SPREAD_X = 0x27d4eb2f;
const SPREAD_Y = 0x165667b1;
const SPREAD_Z = 0x1b873593;

/** Which gradient a corner has. */
const gradientAt = (spread: number): number => Math.imul(spread ^ (spread >>> 15), 0x2c1b3c6d) >>> 28;

/** 3D gradient noise. */
function gradientNoise(x: number, y: number, z: number, seed: number): number {
  const ix = Math.floor(x);
  const iy = Math.floor(y);
  const iz = Math.floor(z);
  const fx = x - ix;
  const fy = y - iy;
  const fz = z - iz;
  const u = fade(fx);
  const v = fade(fy);
  const t = fade(fz);
  const base = mixSigned(seed);
  const x0 = Math.imul(ix, SPREAD_X);
  const x1 = Math.imul(ix + 1, SPREAD_X);
  const y0 = Math.imul(iy, SPREAD_Y);
  const y1 = Math.imul(iy + 1, SPREAD_Y);
  const z0 = Math.imul(iz, SPREAD_Z) ^ base;
  const z1 = Math.imul(iz + 1, SPREAD_Z) ^ base;
  const gx = fx - 1;
  const gy = fy - 1;
  const gz = fz - 1;
  // Written out: a call per corner would box its numbers and cost more than the corner itself.
  let h = 0;
  h = gradientAt(x0 ^ y0 ^ z0);
  const c000 = GRADIENT_X[h] * fx + GRADIENT_Y[h] * fy + GRADIENT_Z[h] * fz;
  h = gradientAt(x1 ^ y0 ^ z0);
  const c100 = GRADIENT_X[h] * gx + GRADIENT_Y[h] * fy + GRADIENT_Z[h] * fz;
  h = gradientAt(x0 ^ y1 ^ z0);
  const c010 = GRADIENT_X[h] * fx + GRADIENT_Y[h] * gy + GRADIENT_Z[h] * fz;
  h = gradientAt(x1 ^ y1 ^ z0);
  const c110 = GRADIENT_X[h] * gx + GRADIENT_Y[h] * gy + GRADIENT_Z[h] * fz;
  h = gradientAt(x0 ^ y0 ^ z1);
  const c001 = GRADIENT_X[h] * fx + GRADIENT_Y[h] * fy + GRADIENT_Z[h] * gz;
  h = gradientAt(x1 ^ y0 ^ z1);
  const c101 = GRADIENT_X[h] * gx + GRADIENT_Y[h] * fy + GRADIENT_Z[h] * gz;
  h = gradientAt(x0 ^ y1 ^ z1);
  const c011 = GRADIENT_X[h] * fx + GRADIENT_Y[h] * gy + GRADIENT_Z[h] * gz;
  h = gradientAt(x1 ^ y1 ^ z1);
  const c111 = GRADIENT_X[h] * gx + GRADIENT_Y[h] * gy + GRADIENT_Z[h] * gz;
  const c00 = c000 + u * (c100 - c000);
  const c10 = c010 + u * (c110 - c010);
  const c01 = c001 + u * (c101 - c001);
  const c11 = c011 + u * (c111 - c011);
  const low = c00 + v * (c10 - c00);
  return low + t * (c01 + v * (c11 - c01) - low);
}

/** Σ roughnessⁱ · noise(lacunarityⁱ p). */
export function plainFractalNoise(x: number, y: number, z: number, seed: number, octaves: number): number {
  let sum = 0;
  let amplitude = 1;
  let frequency = 1;
  for (let i = 0; i < octaves; i++) {
    const own = i === 0 ? seed : mix32(seed + i);
    sum += amplitude * gradientNoise(x * frequency, y * frequency, z * frequency, own);
    amplitude *= 0.5;
    frequency *= 2;
  }
  return sum;
}
