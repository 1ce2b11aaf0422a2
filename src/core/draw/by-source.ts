import { tick } from "../cancelling";
import type { Domain } from "../geometry/column";

/** Sites per source number, those that come first first; −1 holds the bare ones. */
export function bySource(sites: Domain, sources: number): [number, Int32Array | "all"][] {
  const source = sites.columns.source?.lanes[0];
  if (!source || sources === 0) return [[-1, "all"]];
  let same = 1;
  while (same < sites.count && source[same] === source[0]) same++;
  if (same === sites.count) return [[source[0] >= 0 && source[0] < sources ? source[0] : -1, "all"]];
  // Counted first, so that each group is written once into its place among all. The bare ones stand at 0.
  const numbers = new Int32Array(sites.count);
  const ends = new Int32Array(sources + 1);
  const order: number[] = [];
  inBlocks(sites.count, (from, until) => {
    for (let i = from; i < until; i++) {
      const s = source[i];
      const group = s >= 0 && s < sources ? s + 1 : 0;
      if (ends[group]++ === 0) order.push(group);
    }
  });
  const starts = new Int32Array(sources + 1);
  for (let g = 1; g <= sources; g++) starts[g] = starts[g - 1] + ends[g - 1];
  ends.set(starts);
  inBlocks(sites.count, (from, until) => {
    for (let i = from; i < until; i++) {
      const s = source[i];
      const group = s >= 0 && s < sources ? s + 1 : 0;
      numbers[ends[group]++] = i;
    }
  });
  return order.map((group) => [group - 1, numbers.subarray(starts[group], ends[group])]);
}

/** Elements between two looks at whether the work is still wanted. */
const BLOCK = 16_384;

function inBlocks(count: number, work: (from: number, until: number) => void): void {
  for (let from = 0; from < count; from += BLOCK) {
    tick(BLOCK);
    work(from, Math.min(count, from + BLOCK));
  }
}
