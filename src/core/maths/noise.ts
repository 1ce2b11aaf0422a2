/**
 * How fractal noise that moves with time is made of lattices. Each whole step along the time axis has a 3D lattice of
 * its own whose gradients carry a ±1 component along it; between two steps both are mixed. With `period` > 0 the
 * steps repeat after that many, which closes a loop exactly. The lattice itself is a kernel.
 */
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

export interface Octave {
  readonly frequency: number;
  readonly amplitude: number;
  /** Seeds of the lattices before and after, and where between them, 0…1. */
  readonly before: number;
  readonly after: number;
  readonly part: number;
}

/** Σ roughnessⁱ · noise(lacunarityⁱ p) (F. K. Musgrave); not normalised, so one octave is plain noise. */
export function octavesOf(seed: number, w: number, options: FractalOptions): Octave[] {
  const step = Math.floor(w);
  return Array.from({ length: options.octaves }, (_, i) => {
    const own = i === 0 ? seed : mix32(seed + i);
    return {
      frequency: options.lacunarity ** i,
      amplitude: options.roughness ** i,
      before: stepSeed(own, step, options.period),
      after: stepSeed(own, step + 1, options.period),
      part: w - step,
    };
  });
}

/** Seed of one step along w; step 0 is the seed itself. */
function stepSeed(seed: number, step: number, period: number): number {
  const wrapped = period > 0 ? ((step % period) + period) % period : step;
  return wrapped === 0 ? seed : mix32(seed + Math.imul(wrapped, 0x9e3779b9));
}
