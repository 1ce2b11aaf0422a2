/** The order of nodes of a flat graph where Step loops bring back what left them at the step before. */
import { indexGraph, orderFrom } from "../document/links";
import type { FlatGraph } from "./flatten";

/**
 * All that nodes need at any frame, sources first: what feeds them, and what leaves the Step loops among that. Where links go
 * in a ring the nodes themselves are all there is.
 */
export function closedOrder(flat: FlatGraph, ids: readonly string[]): readonly string[] {
  const index = indexGraph(flat.graph);
  const roots = [...ids];
  for (;;) {
    const found = orderFrom(index, roots);
    if (!found.ok) return ids;
    if (flat.loops.size === 0) return found.order;
    const known = new Set(found.order);
    const more = found.order.flatMap((id) => flat.loops.get(id) ?? []).filter((exit) => !known.has(exit));
    if (more.length === 0) return found.order;
    roots.push(...more);
  }
}
