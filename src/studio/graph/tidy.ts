/**
 * Puts cards in columns along their links, without overlaps and with few crossings, by dagre; cards without links stand below
 * them, in rows, and the Stage is always the last.
 */
import { Graph, layout } from "@dagrejs/dagre";
import type { Edit } from "@/core/document/edits";
import { parseAddress } from "@/core/document/links";
import type { GraphNode, PieceDocument } from "@/core/document/schema";

/** Units of the graph between columns and between cards of one. */
const BETWEEN_COLUMNS = 56;
const BETWEEN_CARDS = 22;
/** Width to height that rows of loose cards come to, about. */
const SHAPE = 1.4;

type Size = readonly [number, number];
type Corners = Map<string, [number, number]>;

/** Of cards that are not on the page. */
const USUAL_SIZE: Size = [180, 120];

/**
 * Moves the chosen nodes, or all when fewer than two are; their upper left corner stays where it is.
 * @param sizes width and height of every card
 */
export function tidyEdit(
  document: PieceDocument,
  chosen: ReadonlySet<string>,
  sizes: ReadonlyMap<string, Size>,
): Edit | null {
  const { nodes, links } = document.graph;
  const moved = nodes.filter((node) => chosen.size < 2 || chosen.has(node.id));
  if (moved.length < 2) return null;
  const ids = new Set(moved.map(({ id }) => id));
  const between = links
    .map((link) => ({ link, from: parseAddress(link.from).node, to: parseAddress(link.to).node }))
    .filter(({ from, to }) => ids.has(from) && ids.has(to));
  const linked = new Set(between.flatMap(({ from, to }) => [from, to]));
  const sizeOf = (id: string): Size => sizes.get(id) ?? USUAL_SIZE;

  const corners: Corners = new Map();
  if (linked.size > 0) {
    const graph = new Graph({ multigraph: true });
    graph.setGraph({ rankdir: "LR", ranksep: BETWEEN_COLUMNS, nodesep: BETWEEN_CARDS });
    graph.setDefaultEdgeLabel(() => ({}));
    for (const id of linked) graph.setNode(id, { width: sizeOf(id)[0], height: sizeOf(id)[1] });
    for (const { link, from, to } of between) graph.setEdge(from, to, {}, `${link.from}>${link.to}`);
    layout(graph);
    for (const id of linked) {
      const { x, y, width, height } = graph.node(id);
      corners.set(id, [x - width / 2, y - height / 2]);
    }
  }
  const loose = moved.filter(({ id }) => !linked.has(id));
  placeInRows([...loose.filter(isNoStage), ...loose.filter((node) => !isNoStage(node))], sizeOf, corners);

  const least = (list: readonly number[]) => Math.min(...list);
  const all = [...corners.values()];
  const by = [0, 1].map((axis) => least(moved.map(({ at }) => at[axis])) - least(all.map((at) => at[axis])));
  const to = Object.fromEntries(
    [...corners].map(([id, [x, y]]) => [id, [Math.round(x + by[0]), Math.round(y + by[1])] as const]),
  );
  return { kind: "move-nodes", to };
}

const isNoStage = ({ type }: GraphNode): boolean => type !== "stage";

/** Loose cards one after the other, below what is placed already, in rows about as wide as all is high. */
function placeInRows(cards: readonly GraphNode[], sizeOf: (id: string) => Size, corners: Corners): void {
  const placed = [...corners].map(([id, [x, y]]) => ({
    x,
    right: x + sizeOf(id)[0],
    bottom: y + sizeOf(id)[1],
  }));
  const left = placed.length > 0 ? Math.min(...placed.map(({ x }) => x)) : 0;
  const area = cards.reduce((sum, { id }) => {
    const [width, height] = sizeOf(id);
    return sum + (width + BETWEEN_COLUMNS) * (height + BETWEEN_CARDS);
  }, 0);
  const right = Math.max(left + Math.sqrt(area * SHAPE), ...placed.map((card) => card.right));
  let [x, y, high] = [
    left,
    placed.length > 0 ? Math.max(...placed.map(({ bottom }) => bottom)) + BETWEEN_COLUMNS : 0,
    0,
  ];
  for (const { id } of cards) {
    const [width, height] = sizeOf(id);
    if (x > left && x + width > right) [x, y, high] = [left, y + high + BETWEEN_CARDS, 0];
    corners.set(id, [x, y]);
    x += width + BETWEEN_COLUMNS;
    high = Math.max(high, height);
  }
}
