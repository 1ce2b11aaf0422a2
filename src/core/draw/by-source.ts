import { tick } from "../cancelling";
import type { Domain, Lane } from "../geometry/column";
import { addressOf } from "../kernels/arena";
import { withScratch } from "../kernels/kernels";

/** Sites per source number, those that come first first; −1 holds the bare ones. */
export function bySource(sites: Domain, sources: number): [number, Int32Array | "all"][] {
  const source = sites.columns.source?.lanes[0];
  if (!source || sources === 0) return [[-1, "all"]];
  const groupOf = (i: number) => (source[i] >= 0 && source[i] < sources ? source[i] : -1);
  let same = 1;
  while (same < sites.count && source[same] === source[0]) same++;
  if (same === sites.count) return [[groupOf(0), "all"]];
  return sorted(source, sources)
    .filter(([, numbers]) => numbers.length > 0)
    .sort(([, a], [, b]) => a[0] - b[0]);
}

/** Numbers of the sites of each group, ascending. */
function sorted(source: Lane, sources: number): [number, Int32Array][] {
  const count = source.length;
  return withScratch((scratch) => {
    tick(Number.POSITIVE_INFINITY);
    const { kernels, memory } = scratch.engine;
    const picks = (source instanceof Int32Array ? addressOf(source) : null) ?? scratch.room(count * 4);
    const counts = scratch.room((sources + 1) * 4);
    const numbers = scratch.room(count * 4);
    const integers = (at: number, length: number) => new Int32Array(memory.memory.buffer, at, length);
    if (addressOf(source) === null) integers(picks, count).set(source);
    const ends = integers(counts, sources + 1).fill(0);
    kernels.kernel("countPicks")(count, picks, sources, counts);
    let at = 0;
    for (let group = 0; group <= sources; group++) {
      const size = ends[group];
      ends[group] = at;
      at += size;
    }
    const starts = ends.slice();
    kernels.kernel("sortByPick")(count, picks, sources, counts, numbers);
    return Array.from(starts, (start, group) => [
      group - 1,
      integers(numbers + start * 4, ends[group] - start).slice(),
    ]);
  });
}
