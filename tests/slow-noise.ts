/**
 * The slow reference of the noise kernels, in float64 and one place at a time.
 * Gradient noise after K. Perlin, "Improving noise" (2002): the twelve edge gradients and the fade curve
 * 6t⁵−15t⁴+10t³, over a lattice hashed with integers (no 256 period, no table).
 */
import type { FractalOptions } from "../src/core/maths/noise";
import { mix32, mixSigned } from "../src/core/maths/random";

/** 6t⁵−15t⁴+10t³. */
export const fade = (t: number): number => t * t * t * (t * (t * 6 - 15) + 10);

/** The twelve edge gradients, four of them twice, by the low four bits of a hash; tables, as branches miss. */
const GRADIENT_X = Float64Array.of(1, -1, 1, -1, 1, -1, 1, -1, 0, 0, 0, 0, 1, 0, -1, 0);
const GRADIENT_Y = Float64Array.of(1, 1, -1, -1, 0, 0, 0, 0, 1, -1, 1, -1, 1, -1, 1, -1);
const GRADIENT_Z = Float64Array.of(0, 0, 0, 0, 1, 1, -1, -1, 1, 1, -1, -1, 0, 1, 0, -1);

/** Odd multipliers spread neighbouring lattice numbers over 32 bits before the final mix. */
const SPREAD_X = 0x27d4eb2f;
const SPREAD_Y = 0x165667b1;
const SPREAD_Z = 0x1b873593;

/**
 * 3D gradient noise, about −1…1 (bound 1.0364 when `w` is 0), zero at lattice points. `w` is the distance
 * from this lattice along a fourth axis, which each gradient meets with ±1.
 */
export function gradientNoise(x: number, y: number, z: number, seed: number, w = 0): number {
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
  h = mixSigned(x0 ^ y0 ^ z0);
  const c000 =
    GRADIENT_X[h & 15] * fx + GRADIENT_Y[h & 15] * fy + GRADIENT_Z[h & 15] * fz + w * (1 - ((h & 16) >> 3));
  h = mixSigned(x1 ^ y0 ^ z0);
  const c100 =
    GRADIENT_X[h & 15] * gx + GRADIENT_Y[h & 15] * fy + GRADIENT_Z[h & 15] * fz + w * (1 - ((h & 16) >> 3));
  h = mixSigned(x0 ^ y1 ^ z0);
  const c010 =
    GRADIENT_X[h & 15] * fx + GRADIENT_Y[h & 15] * gy + GRADIENT_Z[h & 15] * fz + w * (1 - ((h & 16) >> 3));
  h = mixSigned(x1 ^ y1 ^ z0);
  const c110 =
    GRADIENT_X[h & 15] * gx + GRADIENT_Y[h & 15] * gy + GRADIENT_Z[h & 15] * fz + w * (1 - ((h & 16) >> 3));
  h = mixSigned(x0 ^ y0 ^ z1);
  const c001 =
    GRADIENT_X[h & 15] * fx + GRADIENT_Y[h & 15] * fy + GRADIENT_Z[h & 15] * gz + w * (1 - ((h & 16) >> 3));
  h = mixSigned(x1 ^ y0 ^ z1);
  const c101 =
    GRADIENT_X[h & 15] * gx + GRADIENT_Y[h & 15] * fy + GRADIENT_Z[h & 15] * gz + w * (1 - ((h & 16) >> 3));
  h = mixSigned(x0 ^ y1 ^ z1);
  const c011 =
    GRADIENT_X[h & 15] * fx + GRADIENT_Y[h & 15] * gy + GRADIENT_Z[h & 15] * gz + w * (1 - ((h & 16) >> 3));
  h = mixSigned(x1 ^ y1 ^ z1);
  const c111 =
    GRADIENT_X[h & 15] * gx + GRADIENT_Y[h & 15] * gy + GRADIENT_Z[h & 15] * gz + w * (1 - ((h & 16) >> 3));
  const c00 = c000 + u * (c100 - c000);
  const c10 = c010 + u * (c110 - c010);
  const c01 = c001 + u * (c101 - c001);
  const c11 = c011 + u * (c111 - c011);
  const low = c00 + v * (c10 - c00);
  return low + t * (c01 + v * (c11 - c01) - low);
}

/**
 * Gradient noise that also changes with `w` (time in lattice steps): each whole step has its own 3D lattice
 * whose gradients carry a ±1 component along w, so at whole w it equals `gradientNoise` with that step's seed.
 * With `period` > 0 the steps repeat after that many, which closes a loop exactly.
 */
export function movingNoise(
  x: number,
  y: number,
  z: number,
  w: number,
  seed: number,
  period: number,
): number {
  const step = Math.floor(w);
  const t = w - step;
  const before = gradientNoise(x, y, z, stepSeed(seed, step, period), t);
  if (t === 0) return before;
  const after = gradientNoise(x, y, z, stepSeed(seed, step + 1, period), t - 1);
  return before + fade(t) * (after - before);
}

/** Seed of one step along w; step 0 is the seed itself. */
function stepSeed(seed: number, step: number, period: number): number {
  const wrapped = period > 0 ? ((step % period) + period) % period : step;
  return wrapped === 0 ? seed : mix32(seed + Math.imul(wrapped, 0x9e3779b9));
}

/** Σ roughnessⁱ · noise(lacunarityⁱ p) (F. K. Musgrave); not normalised, so one octave is plain noise. */
export function fractalNoise(
  x: number,
  y: number,
  z: number,
  w: number,
  seed: number,
  options: FractalOptions,
): number {
  let sum = 0;
  let amplitude = 1;
  let frequency = 1;
  for (let i = 0; i < options.octaves; i++) {
    const own = i === 0 ? seed : mix32(seed + i);
    sum += amplitude * movingNoise(x * frequency, y * frequency, z * frequency, w, own, options.period);
    amplitude *= options.roughness;
    frequency *= options.lacunarity;
  }
  return sum;
}
