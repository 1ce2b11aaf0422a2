/**
 * The slow reference of the noise kernels, in float64 and one place at a time.
 * Gradient noise after K. Perlin, "Improving noise" (2002): the twelve edge gradients and the fade curve
 * 6t⁵−15t⁴+10t³, over a lattice hashed with integers (no 256 period, no table).
 */
import { type FractalOptions, stepsOf } from "../src/core/maths/noise";
import { mix32, mixSigned, unit24 } from "../src/core/maths/random";

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

/** Hash of a corner from its spread lattice numbers: which gradient, and which way it goes along w. */
export const cornerHash = (spread: number): number => Math.imul(spread ^ (spread >>> 15), 0x2c1b3c6d);

/** Lattice numbers of a corner and the seed, spread over 32 bits and joined. */
export const spreadOf = (x: number, y: number, z: number, seed: number): number =>
  Math.imul(x, SPREAD_X) ^ Math.imul(y, SPREAD_Y) ^ Math.imul(z, SPREAD_Z) ^ mixSigned(seed);

/** What each of a cell's eight corners adds: its gradient's dot product with the way from it. */
type Corner = (x: number, y: number, z: number, dx: number, dy: number, dz: number) => number;

function overCorners(x: number, y: number, z: number, corner: Corner): number {
  const [ix, iy, iz] = [x, y, z].map(Math.floor);
  const [fx, fy, fz] = [x - ix, y - iy, z - iz];
  const at = (i: number, j: number, k: number) => corner(ix + i, iy + j, iz + k, fx - i, fy - j, fz - k);
  const along = (j: number, k: number) => at(0, j, k) + fade(fx) * (at(1, j, k) - at(0, j, k));
  const low = along(0, 0) + fade(fy) * (along(1, 0) - along(0, 0));
  const high = along(0, 1) + fade(fy) * (along(1, 1) - along(0, 1));
  return low + fade(fz) * (high - low);
}

/**
 * 3D gradient noise, about −1…1 (bound 1.0364 when `w` is 0), zero at lattice points. `w` is the distance
 * from this lattice along a fourth axis, which each gradient meets with ±1.
 */
export const gradientNoise = (x: number, y: number, z: number, seed: number, w = 0): number =>
  overCorners(x, y, z, (i, j, k, dx, dy, dz) => {
    const hash = cornerHash(spreadOf(i, j, k, seed));
    const g = hash >>> 28;
    return GRADIENT_X[g] * dx + GRADIENT_Y[g] * dy + GRADIENT_Z[g] * dz + ((hash >>> 27) & 1 ? -w : w);
  });

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

/**
 * Cellular noise by trying every point of the 7³ cells around: distances to the nearest and the second nearest, and the
 * nearest one's cell as a number. Each cell has one point, `jitter` of the way from its middle to anywhere in it.
 */
export function slowCells(
  place: readonly number[],
  seed: number,
  w: number,
  period: number,
  jitter: number,
): [number, number, number] {
  const found = cellPoints(place, seed, w, period, jitter)
    .map(({ at, own }) => ({ own, d: Math.hypot(...at.map((v, a) => v - place[a])) }))
    .sort((a, b) => a.d - b.d);
  return [found[0].d, found[1].d, found[0].own];
}

export function cellPoints(
  place: readonly number[],
  seed: number,
  w: number,
  period: number,
  jitter: number,
): { at: number[]; own: number }[] {
  const { before, after, blend } = stepsOf(seed, w, period);
  const middle = place.map(Math.floor);
  const points: { at: number[]; own: number }[] = [];
  for (let k = -3; k <= 3; k++)
    for (let j = -3; j <= 3; j++)
      for (let i = -3; i <= 3; i++) {
        const cell = [middle[0] + i, middle[1] + j, middle[2] + k];
        const [x, y, z] = cell;
        const hashes = [before, after].map((s) => mix32(spreadOf(x, y, z, s)));
        const at = cell.map((c, axis) => {
          const [a, b] = hashes.map((h) => ((h >>> (10 * axis)) & 1023) / 1023 - 0.5);
          return c + 0.5 + jitter * (a + blend * (b - a));
        });
        const spread = Math.imul(x, SPREAD_X) ^ Math.imul(y, SPREAD_Y) ^ Math.imul(z, SPREAD_Z);
        points.push({ at, own: unit24(mix32(spread ^ mix32(seed ^ 0x5bd1e995))) });
      }
  return points;
}

/**
 * Curl of three noises by central differences. The potential along each axis is noise at the place with the axes taken
 * in turn, so that its own comes last.
 */
export function slowSwirl(
  place: readonly number[],
  seeds: readonly number[],
  w: number,
  options: FractalOptions,
): number[] {
  const step = 1e-4;
  const potential = (axis: number, at: readonly number[]): number => {
    const [a, b, c] = [0, 1, 2].map((i) => at[(axis + i + 1) % 3]);
    return fractalNoise(a, b, c, w, seeds[(axis + 1) % 3], options);
  };
  const slope = (axis: number, along: number): number => {
    const moved = (by: number) => place.map((v, i) => (i === along ? v + by : v));
    return (potential(axis, moved(step)) - potential(axis, moved(-step))) / (2 * step);
  };
  return [slope(2, 1) - slope(1, 2), slope(0, 2) - slope(2, 0), slope(1, 0) - slope(0, 1)];
}
