/** Puts cards in columns along their links, without overlaps and with few crossings, by dagre. */
import { Graph, layout } from "@dagrejs/dagre";
import type { Edit } from "@/core/document/edits";
import { parseAddress } from "@/core/document/links";
import type { PieceDocument } from "@/core/document/schema";

/** Units of the graph between columns and between cards of one. */
const BETWEEN_COLUMNS = 56;
const BETWEEN_CARDS = 22;

/**
 * Moves the chosen nodes, or all when fewer than two are; their upper left corner stays where it is.
 * @param sizes width and height of every card
 */
export function tidyEdit(
  document: PieceDocument,
  chosen: ReadonlySet<string>,
  sizes: ReadonlyMap<string, readonly [number, number]>,
): Edit | null {
  const { nodes, links } = document.graph;
  const moved = nodes.filter((node) => chosen.size < 2 || chosen.has(node.id));
  if (moved.length < 2) return null;
  const graph = new Graph({ multigraph: true });
  graph.setGraph({ rankdir: "LR", ranksep: BETWEEN_COLUMNS, nodesep: BETWEEN_CARDS });
  graph.setDefaultEdgeLabel(() => ({}));
  for (const { id } of moved) {
    const [width, height] = sizes.get(id) ?? [180, 120];
    graph.setNode(id, { width, height });
  }
  const ids = new Set(moved.map(({ id }) => id));
  for (const link of links) {
    const [from, to] = [parseAddress(link.from).node, parseAddress(link.to).node];
    if (ids.has(from) && ids.has(to)) graph.setEdge(from, to, {}, `${link.from}>${link.to}`);
  }
  layout(graph);
  const corners = moved.map(({ id }) => {
    const { x, y, width, height } = graph.node(id);
    return { id, x: x - width / 2, y: y - height / 2 };
  });
  const least = (list: readonly number[]) => Math.min(...list);
  const by = [
    least(moved.map(({ at }) => at[0])) - least(corners.map(({ x }) => x)),
    least(moved.map(({ at }) => at[1])) - least(corners.map(({ y }) => y)),
  ];
  const to = Object.fromEntries(
    corners.map(({ id, x, y }) => [id, [Math.round(x + by[0]), Math.round(y + by[1])] as const]),
  );
  return { kind: "move-nodes", to };
}
