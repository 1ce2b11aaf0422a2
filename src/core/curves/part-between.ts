/** Parts of curves, from one place of their length to another. */
import type { AlongCurves } from "./along-curves";
import type { Sample, SampledCurve } from "./sampled-curves";

/** All of a length, but for what float32 rounds away of two fields. */
const ALL = 1 - 1e-6;

/** The first of numbers in rising order that is above another; their count where none is. */
function firstAbove(numbers: readonly number[], limit: number): number {
  let [low, high] = [0, numbers.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (numbers[middle] > limit) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** Parts of one curve. */
export class PartsBetween {
  private readonly isRound: boolean;
  /** At which part of the length each point lies. */
  private readonly parts: readonly number[];

  constructor(
    private readonly along: AlongCurves,
    private readonly k: number,
    private readonly first: number,
  ) {
    this.isRound = along.isRound(k);
    this.parts = along.partsOfPoints(k);
  }

  /** From one part of the length to another: round and round a closed curve, until the ends of an open one; null where nothing is left. */
  between(from: number, to: number): SampledCurve | null {
    const { along, isRound, k, parts } = this;
    if (isRound && to - from >= ALL)
      return { of: k, closed: true, samples: parts.map((_, i) => this.own(i)) };
    const [a, b] = isRound ? [from, to] : [Math.max(0, from), Math.min(1, to)];
    if (!(b > a) || along.lengths[k] === 0) return null;
    const samples: Sample[] = [along.at(k, a)];
    const rounds = isRound ? Math.ceil(b) : 1;
    for (let round = isRound ? Math.floor(a) : 0; round < rounds; round++)
      for (let i = firstAbove(parts, a - round); i < parts.length && parts[i] + round < b; i++)
        samples.push(this.own(i));
    samples.push(along.at(k, b));
    return { of: k, closed: false, samples };
  }

  private own(i: number): Sample {
    const p = this.first + i;
    return { p, q: p, t: 0 };
  }
}
