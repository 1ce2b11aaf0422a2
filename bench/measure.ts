/** Timing for ratios: medians of runs of both sides, taken in turns so that what the machine does hits both. */

export const median = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

const once = (work: () => void): number => {
  const begun = performance.now();
  work();
  return performance.now() - begun;
};

export interface Pair {
  readonly ours: number;
  readonly other: number;
}

/** Medians in milliseconds; both sides run twice beforehand. */
export function inTurns(runs: number, ours: () => void, other: () => void): Pair {
  for (let i = 0; i < 2; i++) {
    ours();
    other();
  }
  const times = Array.from({ length: runs }, () => [once(ours), once(other)]);
  return { ours: median(times.map((t) => t[0])), other: median(times.map((t) => t[1])) };
}
