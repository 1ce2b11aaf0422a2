/** What a lane of numbers is like as a whole; those that are not finite are left out. */
import { ownAt } from "./job";
import { Plan } from "./plan";

/** Null when no number is finite. */
export function rangeOf(lane: ArrayLike<number>): { readonly min: number; readonly max: number } | null {
  const plan = new Plan();
  const at = plan.extremes();
  plan.calls.push({ kernel: "leastAndGreatest", operands: [ownAt(at), plan.read(lane)], numbers: [] });
  const { least, greatest } = plan.runForExtremes(lane.length, at);
  const [min, max] = [Math.min(...least), Math.max(...greatest)];
  return min <= max ? { min, max } : null;
}

/** The greatest of all numbers of some lanes, without their sign; 0 where none is finite. */
export function greatestOf(lanes: readonly ArrayLike<number>[]): number {
  let most = 0;
  for (const lane of lanes) {
    const range = rangeOf(lane);
    if (range) most = Math.max(most, -range.min, range.max);
  }
  return most;
}

/** How many numbers fall into each of `bins` equal parts of a range, its ends included. */
export function histogramOf(lane: ArrayLike<number>, min: number, max: number, bins: number): number[] {
  const plan = new Plan();
  const at = plan.counts(bins);
  const perUnit = max > min ? bins / (max - min) : 0;
  plan.calls.push({
    kernel: "histogram",
    operands: [ownAt(at), plan.read(lane)],
    numbers: [min, perUnit, bins - 1],
  });
  return plan.runForCounts(lane.length, at, bins);
}
