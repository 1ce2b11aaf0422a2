/**
 * Lays cards out along their links, by the layered layout of ELK (Sugiyama, Tagawa and Toda 1981), which knows where ports are.
 * Note areas stay together: each is laid out by itself, and they stand in rows in the order in which they feed each other.
 */
import type { ELK, ElkNode } from "elkjs/lib/elk-api";
import type { Edit } from "@/core/document/edits";
import { parseAddress, settingPort } from "@/core/document/links";
import type { GraphNode, Link, Note, PieceDocument } from "@/core/document/schema";
import { BELOW, BETWEEN } from "../cards/card-places";
import { type CardSize, cardSize, portPlace } from "../cards/card-size";
import { MARGIN, NOTE_HEAD, nodesOn } from "../note-edits";

type Sizes = ReadonlyMap<string, CardSize>;

/** Cards that stay together: those of a note area, or those on none. */
interface Group {
  readonly note: Note | null;
  readonly nodes: readonly GraphNode[];
}

interface Laid extends Group {
  /** Corners within the group. */
  readonly at: ReadonlyMap<string, readonly [number, number]>;
  readonly width: number;
  readonly height: number;
}

const ELK_OPTIONS = {
  "elk.algorithm": "layered",
  "elk.direction": "RIGHT",
  "elk.padding": "[top=0,left=0,bottom=0,right=0]",
  "elk.layered.spacing.nodeNodeBetweenLayers": String(BETWEEN),
  "elk.spacing.nodeNode": String(BELOW),
  "elk.layered.spacing.edgeNodeBetweenLayers": "16",
  "elk.layered.spacing.edgeEdgeBetweenLayers": "6",
  "elk.spacing.edgeNode": "12",
  "elk.spacing.componentComponent": String(BELOW),
  "elk.layered.nodePlacement.strategy": "NETWORK_SIMPLEX",
  "elk.layered.considerModelOrder.strategy": "NODES_AND_EDGES",
  "elk.aspectRatio": "1.2",
};

/** Between note areas. */
const BETWEEN_AREAS = 44;

/**
 * Moves the chosen nodes, or all when fewer than two are; their upper left corner stays where it is. Note areas that are moved
 * whole are fitted around their cards. Null when there is nothing to lay out.
 * @param sizes of cards that are drawn other than folded @param shape width to height of what all of it is seen in
 */
export async function tidyEdit(
  elk: Pick<ELK, "layout">,
  document: PieceDocument,
  chosen: ReadonlySet<string>,
  sizes: Sizes = new Map(),
  shape = 1,
): Promise<Edit | null> {
  const { nodes, notes = [] } = document.graph;
  const all = chosen.size < 2;
  const moved = all ? nodes : nodes.filter(({ id }) => chosen.has(id));
  if (moved.length < 2) return null;
  const groups = all ? groupsOf(document) : [{ note: null, nodes: moved }];
  const laid: Laid[] = [];
  for (const group of groups) laid.push(await laidOut(elk, document, group, sizes));
  const corners = inRows(fed(document, laid), shape);
  const to: Record<string, readonly [number, number]> = {};
  const areas: Note[] = [];
  const least = [0, 1].map((axis) =>
    Math.min(...moved.map(({ at }) => at[axis]), ...(all ? notes.map(({ at }) => at[axis]) : [])),
  );
  const own = [0, 1].map((axis) => Math.min(...corners.map(({ at }) => at[axis])));
  for (const { group, at } of corners) {
    const [x, y] = [Math.round(at[0] + least[0] - own[0]), Math.round(at[1] + least[1] - own[1])];
    const inset = group.note ? [MARGIN, NOTE_HEAD] : [0, 0];
    for (const [id, corner] of group.at)
      to[id] = [Math.round(x + inset[0] + corner[0]), Math.round(y + inset[1] + corner[1])];
    if (group.note)
      areas.push({ ...group.note, at: [x, y], size: [Math.round(group.width), Math.round(group.height)] });
  }
  const move: Edit = { kind: "move-nodes", to };
  // Places through which links were led lie by the cards as they were.
  const led = document.graph.links.filter(({ via, to: end }) => via && to[parseAddress(end).node]);
  return areas.length + led.length === 0
    ? move
    : {
        kind: "several",
        edits: [
          move,
          ...areas.map((note): Edit => ({ kind: "set-note", note })),
          ...led.map((link): Edit => ({ kind: "set-via", link, via: undefined })),
        ],
      };
}

/** Each card belongs to the smallest area that it lies on; those on none are one group. */
function groupsOf(document: PieceDocument): Group[] {
  const notes = [...(document.graph.notes ?? [])].sort(
    (a, b) => a.size[0] * a.size[1] - b.size[0] * b.size[1],
  );
  const taken = new Set<string>();
  const groups: Group[] = notes.map((note) => {
    const own = new Set(nodesOn(document, note).filter((id) => !taken.has(id)));
    for (const id of own) taken.add(id);
    return { note, nodes: document.graph.nodes.filter(({ id }) => own.has(id)) };
  });
  const loose = document.graph.nodes.filter(({ id }) => !taken.has(id));
  // A Stage that nothing leads to is the end all the same.
  const ends = loose.filter(({ id, type }) => type === "stage" && !isLinked(document, id));
  const others = loose.filter((node) => !ends.includes(node));
  return [...groups, { note: null, nodes: others }, { note: null, nodes: ends }].filter(
    ({ nodes }) => nodes.length > 0,
  );
}

const isLinked = ({ graph }: PieceDocument, id: string): boolean =>
  graph.links.some(({ from, to }) => [from, to].some((end) => parseAddress(end).node === id));

const drawn = ({ from }: Link): boolean => settingPort(parseAddress(from).port) === null;

async function laidOut(
  elk: Pick<ELK, "layout">,
  document: PieceDocument,
  group: Group,
  sizes: Sizes,
): Promise<Laid> {
  const ids = new Set(group.nodes.map(({ id }) => id));
  const links = document.graph.links.filter(
    (link) => drawn(link) && ids.has(parseAddress(link.from).node) && ids.has(parseAddress(link.to).node),
  );
  const ports = (node: GraphNode): ElkNode["ports"] =>
    [
      ...new Set(links.filter((l) => parseAddress(l.to).node === node.id).map((l) => `>${l.to}`)),
      ...new Set(links.filter((l) => parseAddress(l.from).node === node.id).map((l) => `<${l.from}`)),
    ].map((id) => {
      const side = id[0] === ">" ? "input" : "output";
      const place = portPlace(document, node, parseAddress(id.slice(1)).port, side);
      const size = sizes.get(node.id) ?? cardSize(document, node);
      return {
        id,
        x: side === "input" ? 0 : size.width,
        y: place?.[1] ?? size.height / 2,
        width: 0,
        height: 0,
        layoutOptions: { "elk.port.side": side === "input" ? "WEST" : "EAST" },
      };
    });
  const root = await elk.layout({
    id: "root",
    layoutOptions: ELK_OPTIONS,
    children: group.nodes.map((node) => ({
      id: node.id,
      ...(sizes.get(node.id) ?? cardSize(document, node)),
      ports: ports(node),
      layoutOptions: {
        "elk.portConstraints": "FIXED_POS",
        // The result comes out at the end.
        ...(node.type === "stage" ? { "elk.layered.layering.layerConstraint": "LAST" } : {}),
      },
    })),
    edges: links.map((link) => ({
      id: `${link.from}>${link.to}`,
      sources: [`<${link.from}`],
      targets: [`>${link.to}`],
    })),
  });
  const placed = root.children ?? [];
  const at = new Map(placed.map(({ id, x = 0, y = 0 }) => [id, [x, y] as const]));
  const width = Math.max(...placed.map(({ x = 0, width: own = 0 }) => x + own));
  const height = Math.max(...placed.map(({ y = 0, height: own = 0 }) => y + own));
  const around = group.note ? [2 * MARGIN, NOTE_HEAD + MARGIN] : [0, 0];
  return { ...group, at, width: width + around[0], height: height + around[1] };
}

/** What feeds another comes before it; else as they stood, by rows. */
function fed(document: PieceDocument, groups: readonly Laid[]): Laid[] {
  const of = new Map(groups.flatMap((group) => group.nodes.map(({ id }) => [id, group] as const)));
  const feeds = new Map<Laid, Set<Laid>>(groups.map((group) => [group, new Set()]));
  for (const link of document.graph.links) {
    const [from, to] = [of.get(parseAddress(link.from).node), of.get(parseAddress(link.to).node)];
    if (from && to && from !== to) feeds.get(to)?.add(from);
  }
  const left = [...groups];
  const order: Laid[] = [];
  while (left.length > 0) {
    const free = left.find((group) => ![...(feeds.get(group) ?? [])].some((from) => left.includes(from)));
    // Areas that feed each other in a ring: the one that waits for the fewest comes first.
    const next =
      free ??
      left.reduce((a, b) =>
        [...(feeds.get(b) ?? [])].filter((g) => left.includes(g)).length <
        [...(feeds.get(a) ?? [])].filter((g) => left.includes(g)).length
          ? b
          : a,
      );
    left.splice(left.indexOf(next), 1);
    order.push(next);
  }
  return order;
}

interface Placed {
  readonly group: Laid;
  readonly at: readonly [number, number];
}

/** In rows, as lines of text are, of the width at which all of it is seen largest in that shape. */
function inRows(groups: readonly Laid[], shape: number): Placed[] {
  const widest = Math.max(...groups.map(({ width }) => width));
  const widths = groups.flatMap((_, i) =>
    groups.slice(i).map((_, n) => sum(groups.slice(i, i + n + 1).map(({ width }) => width + BETWEEN_AREAS))),
  );
  const rows = [widest, ...widths.filter((width) => width > widest)].map((width) => rowsOf(groups, width));
  const need = (placed: readonly Placed[]) => {
    const right = Math.max(...placed.map(({ group, at }) => at[0] + group.width));
    const bottom = Math.max(...placed.map(({ group, at }) => at[1] + group.height));
    return Math.max(right, bottom * shape);
  };
  return rows.reduce((best, one) => (need(one) < need(best) ? one : best));
}

const sum = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0);

function rowsOf(groups: readonly Laid[], width: number): Placed[] {
  const placed: Placed[] = [];
  let [x, y, high] = [0, 0, 0];
  for (const group of groups) {
    if (x > 0 && x + group.width > width) [x, y, high] = [0, y + high + BETWEEN_AREAS, 0];
    placed.push({ group, at: [x, y] });
    x += group.width + BETWEEN_AREAS;
    high = Math.max(high, group.height);
  }
  return placed;
}
