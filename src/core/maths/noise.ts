/**
 * How fractal noise that moves with time is made of lattices. Each whole step along the time axis has a 3D lattice of
 * its own whose gradients carry a ±1 component along it; between two steps both are mixed. With `period` > 0 the
 * steps repeat after that many, which closes a loop exactly. The lattice itself is a kernel.
 */
import { power } from "./exact";
import { mix32 } from "./random";

export interface FractalOptions {
  /** Layers, 1…8. */
  readonly octaves: number;
  /** Amplitude ratio between a layer and the one before, 0…1. */
  readonly roughness: number;
  /** Frequency ratio between a layer and the one before. */
  readonly lacunarity: number;
  /** Steps after which w repeats; 0 for never. */
  readonly period: number;
}

/** One lattice's share of the noise at a place. */
export interface LatticeShare {
  readonly seed: number;
  readonly frequency: number;
  readonly weight: number;
  /** Distance from the lattice along the time axis, −1…1. */
  readonly time: number;
}

/**
 * Σ roughnessⁱ · noise(lacunarityⁱ p) (F. K. Musgrave) as a sum over lattices; not normalised, so one octave is plain
 * noise. Between two steps of time both lattices are mixed by the fade curve, elsewhere there is one.
 */
export function latticesOf(seed: number, w: number, options: FractalOptions): LatticeShare[] {
  return Array.from({ length: options.octaves }, (_, i) => {
    const { before, after, part, blend } = stepsOf(i === 0 ? seed : mix32(seed + i), w, options.period);
    const frequency = power(options.lacunarity, i);
    const amplitude = power(options.roughness, i);
    return [
      { seed: before, frequency, weight: amplitude * (1 - blend), time: part },
      { seed: after, frequency, weight: amplitude * blend, time: part - 1 },
    ];
  })
    .flat()
    .filter(({ weight }) => weight !== 0);
}

/** Seeds of the steps before and after a time, where between them it is (0…1), and the share of the later one. */
export function stepsOf(seed: number, w: number, period: number) {
  const step = Math.floor(w);
  const part = w - step;
  return {
    before: stepSeed(seed, step, period),
    after: stepSeed(seed, step + 1, period),
    part,
    blend: fade(part),
  };
}

/** 6t⁵ − 15t⁴ + 10t³. */
const fade = (t: number): number => t * t * t * (t * (t * 6 - 15) + 10);

/** Seed of one step along w; step 0 is the seed itself. */
function stepSeed(seed: number, step: number, period: number): number {
  const wrapped = period > 0 ? ((step % period) + period) % period : step;
  return wrapped === 0 ? seed : mix32(seed + Math.imul(wrapped, 0x9e3779b9));
}
