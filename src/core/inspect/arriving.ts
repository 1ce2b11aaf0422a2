/** What arrives at an input over some frames, for fitting a range to it. */
import type { FlatGraph } from "../capsules/flatten";
import type { ResultMemory } from "../evaluate/memory";
import { isValue, plainNumber } from "../fields/expression";
import { runValues } from "../fields/run";
import { runSample } from "../fields/sample";
import { histogramOf, rangeOf } from "../kernels/statistics";
import { ascendingOrder, quantile } from "./order";
import { domainsOfUse } from "./summaries";

/** Parts of what arrives that a range may hold. */
export const FITS = { whole: [0, 1], most: [0.02, 0.98] } as const;
export type Fit = keyof typeof FITS;

export interface Arrived {
  readonly min: number;
  readonly max: number;
  /** Ends between which 96 % of the numbers lie. */
  readonly low: number;
  readonly high: number;
  readonly bins: readonly number[];
  /** Numbers that were looked at, over all frames. */
  readonly count: number;
}

const BINS = 48;

/** Gathers what arrives at a number input, frame by frame. */
export class Arrivals {
  private readonly samples: Float32Array[] = [];
  private min = Number.POSITIVE_INFINITY;
  private max = Number.NEGATIVE_INFINITY;

  constructor(
    private readonly node: string,
    private readonly input: string,
  ) {}

  /** Takes what arrived in the last evaluation; false when nothing did. */
  take(flat: FlatGraph, memory: ResultMemory): boolean {
    const value = memory.get(this.node)?.inputs[this.input];
    if (!isValue(value)) return false;
    const plain = plainNumber(value);
    const domain = domainsOfUse(flat, memory).get(this.node) ?? memory.get(this.node)?.domains[0];
    if (plain === null && !domain) return false;
    // Ends are exact; what lies between them is told by a sample.
    const all = plain === null && domain ? runValues([value], domain).lanes[0] : Float32Array.of(plain ?? 0);
    const range = rangeOf(all);
    if (!range) return false;
    this.min = Math.min(this.min, range.min);
    this.max = Math.max(this.max, range.max);
    this.samples.push(plain === null && domain ? runSample([value], domain)[0].filter(Number.isFinite) : all);
    return true;
  }

  /** Null when nothing arrived. */
  summary(): Arrived | null {
    if (this.samples.length === 0) return null;
    const count = this.samples.reduce((sum, { length }) => sum + length, 0);
    const all = new Float32Array(count);
    let at = 0;
    for (const sample of this.samples) {
      all.set(sample, at);
      at += sample.length;
    }
    const order = ascendingOrder(all);
    const { min, max } = this;
    const [low, high] = FITS.most.map((part) => quantile(all, order, part));
    return { min, max, low, high, bins: histogramOf(all, min, max, BINS), count };
  }
}
