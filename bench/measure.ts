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

/** Milliseconds that one figure may take; but a run of both sides at least, and no more than MOST. */
const TIME = 6000;
const MOST = 100;
/** Runs that do not count, within a share of the time: compilers warm up. */
const WARM_UP = 12;

/** Medians in milliseconds. */
export function inTurns(ours: () => void, other: () => void): Pair {
  const begun = performance.now();
  const spent = () => performance.now() - begun;
  const times: [number, number][] = [];
  while (times.length === 0 || (times.length < MOST && spent() < TIME)) times.push([once(ours), once(other)]);
  const counted = times.slice(Math.min(WARM_UP, Math.floor(times.length / 3)));
  return { ours: median(counted.map((t) => t[0])), other: median(counted.map((t) => t[1])) };
}
