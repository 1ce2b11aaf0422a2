/** Which two frames of a range are the most alike: a piece that plays from the first to just before the second closes best. */
import { tick } from "../cancelling";
import { LANES } from "../geometry/column";
import { placesOf } from "../geometry/domains";
import { lanesOf, type Shape } from "../geometry/shape";

/** Elements that are compared, spread over all. */
const MOST_ELEMENTS = 400;
/** Frames between two of a pair, at least: two that follow each other are always alike. */
const SHARE = 0.25;

/** What is compared of every element. */
const PARTS = [
  ["position", "vector"],
  ["rotation", "rotation"],
  ["scale", "vector"],
  ["color", "color"],
] as const;
const SIZES = PARTS.map(([, kind]) => LANES[kind]);
/** Numbers of an element. */
const NUMBERS = SIZES.reduce((sum, size) => sum + size, 0);

export class BestPair {
  private readonly frames: {
    readonly frame: number;
    readonly count: number;
    readonly numbers: Float32Array;
  }[] = [];

  /** Frames are given in order. */
  add(frame: number, shape: Shape): void {
    const domain = placesOf(shape);
    const count = domain?.count ?? 0;
    const picked = Math.min(count, MOST_ELEMENTS);
    const numbers = new Float32Array(picked * NUMBERS);
    let at = 0;
    for (const [name, kind] of domain ? PARTS : []) {
      const { lanes, fallback } = lanesOf(domain as NonNullable<typeof domain>, name, kind);
      for (let i = 0; i < picked; i++) {
        const element = Math.floor((i * count) / picked);
        for (let l = 0; l < fallback.length; l++) numbers[at++] = lanes?.[l][element] ?? fallback[l];
      }
    }
    this.frames.push({ frame, count, numbers });
  }

  /** Null when there are too few frames, or none two have as many elements. */
  best(): { readonly first: number; readonly second: number } | null {
    const { frames } = this;
    if (frames.length < 3) return null;
    const least = Math.max(2, Math.round((frames.length - 1) * SHARE));
    const scales = this.scales();
    let best: { first: number; second: number } | null = null;
    let lowest = Number.POSITIVE_INFINITY;
    for (let a = 0; a + least < frames.length; a++)
      for (let b = a + least; b < frames.length; b++) {
        if (frames[a].count !== frames[b].count) continue;
        const off = difference(frames[a].numbers, frames[b].numbers, scales, lowest);
        if (off >= lowest) continue;
        lowest = off;
        best = { first: frames[a].frame, second: frames[b].frame };
      }
    return best;
  }

  /** 1 ÷ the square of what each part ranges over, so that units of place weigh as much as degrees; of parts that stand, 0. */
  private scales(): readonly number[] {
    const weights: number[] = [];
    let first = 0;
    for (const size of SIZES) {
      let [least, most] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
      for (const { numbers } of this.frames) {
        const count = numbers.length / NUMBERS;
        for (let i = first * count; i < (first + size) * count; i++) {
          least = Math.min(least, numbers[i]);
          most = Math.max(most, numbers[i]);
        }
      }
      const span = most - least;
      weights.push(span > 0 && Number.isFinite(span) ? 1 / (span * span) : 0);
      first += size;
    }
    return weights;
  }
}

/** Sum of squares, each part by its weight; stops where it is no less than `enough`. A turn and its opposite are one. */
function difference(a: Float32Array, b: Float32Array, weights: readonly number[], enough: number): number {
  const count = a.length / NUMBERS;
  let sum = 0;
  let at = 0;
  for (const [part, size] of SIZES.entries()) {
    for (let i = 0; i < count && sum < enough; i++, at += size) {
      tick(1);
      let [near, far] = [0, 0];
      for (let l = at; l < at + size; l++) {
        near += (a[l] - b[l]) * (a[l] - b[l]);
        far += (a[l] + b[l]) * (a[l] + b[l]);
      }
      sum += (PARTS[part][1] === "rotation" ? Math.min(near, far) : near) * weights[part];
    }
    if (sum >= enough) return sum;
  }
  return sum;
}
