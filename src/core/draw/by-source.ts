import type { Domain } from "../geometry/column";

/** Sites per source number; −1 holds the bare ones. */
export function bySource(sites: Domain, sources: number): [number, Int32Array | "all"][] {
  const source = sites.columns.source?.lanes[0];
  if (!source || sources === 0) return [[-1, "all"]];
  let same = 1;
  while (same < sites.count && source[same] === source[0]) same++;
  if (same === sites.count) return [[source[0] < sources ? source[0] : -1, "all"]];
  const groups = new Map<number, number[]>();
  for (let i = 0; i < sites.count; i++) {
    const s = source[i] < sources ? source[i] : -1;
    const group = groups.get(s);
    if (group) group.push(i);
    else groups.set(s, [i]);
  }
  return [...groups].map(([s, group]) => [s, Int32Array.from(group)]);
}
