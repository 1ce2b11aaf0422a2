import type { Edit } from "@/core/document/edits";
import type { PieceDocument } from "@/core/document/schema";
import { BELOW } from "../cards/card-places";
import { type CardSize, usualSize } from "../cards/card-size";

/**
 * Puts the chosen nodes in a column (axis 0: one left edge) or a row (axis 1: one upper edge), in the order in which they
 * stand, one after the other. Null when fewer than two are chosen.
 * @param sizes width and height of every card
 */
export function alignEdit(
  document: PieceDocument,
  chosen: ReadonlySet<string>,
  sizes: ReadonlyMap<string, CardSize>,
  axis: 0 | 1,
): Edit | null {
  const along = 1 - axis;
  const nodes = document.graph.nodes.filter(({ id }) => chosen.has(id));
  if (nodes.length < 2) return null;
  const edge = Math.min(...nodes.map(({ at }) => at[axis]));
  const sorted = [...nodes].sort((a, b) => a.at[along] - b.at[along]);
  const to: Record<string, readonly [number, number]> = {};
  let next = sorted[0].at[along];
  for (const { id } of sorted) {
    to[id] = axis === 0 ? [edge, next] : [next, edge];
    next += (sizes.get(id) ?? usualSize(undefined))[along === 0 ? "width" : "height"] + BELOW;
  }
  return { kind: "move-nodes", to };
}
