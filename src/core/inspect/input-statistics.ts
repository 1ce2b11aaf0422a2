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

export interface InputStatistics {
  readonly min: number;
  readonly max: number;
  /** Ends between which 96 % of the numbers lie. */
  readonly low: number;
  readonly high: number;
  readonly bins: readonly number[];
  /** Numbers that were looked at, over all frames. */
  readonly count: number;
}

/** A port by the path of its node. */
export interface InputOverFrames {
  readonly node: string;
  readonly port: string;
  readonly side: "input" | "output";
}

const BINS = 48;

/** Gathers what passes a port that carries numbers, frame by frame. */
export class InputReader {
  private readonly samples: Float32Array[] = [];
  private min = Number.POSITIVE_INFINITY;
  private max = Number.NEGATIVE_INFINITY;

  constructor(private readonly at: InputOverFrames) {}

  /** Takes what arrived in the last evaluation; false when nothing did. */
  take(flat: FlatGraph, memory: ResultMemory): boolean {
    const { node, port, side } = this.at;
    const known = memory.get(node);
    const value = known?.[side === "input" ? "inputs" : "outputs"][port];
    if (!isValue(value)) return false;
    const plain = plainNumber(value);
    const domain = domainsOfUse(flat, memory).get(node) ?? known?.domains[0];
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
  summary(): InputStatistics | null {
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

/** The counts of what arrived between two ends, in `count` equal parts; a part of a bar counts for its share. */
export function binsBetween(
  { min, max, bins }: InputStatistics,
  low: number,
  high: number,
  count: number,
): number[] {
  const parts = new Array<number>(count).fill(0);
  const width = (max - min) / bins.length;
  const part = (high - low) / count;
  if (!(part !== 0 && Number.isFinite(part))) return parts;
  bins.forEach((amount, i) => {
    const [from, to] = [min + i * width, min + (i + 1) * width].map((value) => (value - low) / part);
    const [first, last] = [Math.min(from, to), Math.max(from, to)];
    if (last - first < 1e-9) {
      const at = Math.floor(first);
      if (at >= 0 && at < count) parts[at] += amount;
      return;
    }
    for (let p = Math.max(0, Math.floor(first)); p < Math.min(count, last); p++)
      parts[p] += (amount * (Math.min(last, p + 1) - Math.max(first, p))) / (last - first);
  });
  return parts;
}

/** The ends that fit, rounded to four digits for reading, outwards. */
export function fittedRange(arrived: InputStatistics, part: Fit): readonly [number, number] {
  const [low, high] = part === "whole" ? [arrived.min, arrived.max] : [arrived.low, arrived.high];
  const [, exponent] = Math.max(high - low, 1e-9)
    .toExponential()
    .split("e");
  const step = Number(`1e${Number(exponent) - 3}`);
  const rounded = (value: number) => Number(value.toPrecision(10));
  return [rounded(Math.floor(low / step) * step), rounded(Math.ceil(high / step) * step)];
}
