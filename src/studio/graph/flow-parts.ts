/** Nodes, note areas and links of a document as the canvas has them; what has not changed stays the same object. */
import type { Edge, Node } from "@xyflow/react";
import { joinAddress, parseAddress, settingPort } from "@/core/document/links";
import type { Graph, Link } from "@/core/document/schema";
import type { Box } from "./opening-view";

export const edgeId = (link: Link): string => `${link.from}>${link.to}`;

interface Ends {
  readonly source: string;
  readonly target: string;
  readonly sourceHandle?: string | null;
  readonly targetHandle?: string | null;
}

export const linkOf = (ends: Ends): Link => ({
  from: joinAddress(ends.source, ends.sourceHandle ?? ""),
  to: joinAddress(ends.target, ends.targetHandle ?? ""),
});

/** Note areas share the canvas with nodes under ids that no node can have. */
const NOTE = "note:";
const noteFlowId = (id: string): string => NOTE + id;
export const noteOf = (flowId: string): string | null =>
  flowId.startsWith(NOTE) ? flowId.slice(NOTE.length) : null;

export function flowNodes(graph: Graph, selected: ReadonlySet<string>, before: readonly Node[] = []): Node[] {
  const known = new Map(before.map((node) => [node.id, node]));
  const notes = (graph.notes ?? []).map(({ id, at, size }): Node => {
    const old = known.get(noteFlowId(id));
    const position = { x: at[0], y: at[1] };
    if (old && isAt(old, position) && old.width === size[0] && old.height === size[1]) return old;
    return {
      ...old,
      id: noteFlowId(id),
      type: "note",
      position,
      width: size[0],
      height: size[1],
      data: {},
      zIndex: -1,
      ariaLabel: `note area ${id}`,
    };
  });
  const cards = graph.nodes.map((node): Node => {
    const old = known.get(node.id);
    const position = { x: node.at[0], y: node.at[1] };
    const isSelected = selected.has(node.id);
    if (old && old.selected === isSelected && isAt(old, position)) return old;
    return {
      ...old,
      id: node.id,
      type: "card",
      position,
      data: {},
      selected: isSelected,
      zIndex: isSelected ? 1 : 0,
      ariaLabel: `node ${node.id}`,
    };
  });
  return [...notes, ...cards];
}

const isAt = ({ position }: Node, { x, y }: Node["position"]): boolean =>
  position.x === x && position.y === y;

/** Values that follow other values are told on the card; no line is drawn for them. */
export function flowEdges(graph: Graph, before: readonly Edge[]): Edge[] {
  const known = new Map(before.map((edge) => [edge.id, edge]));
  return graph.links
    .filter(({ from }) => settingPort(parseAddress(from).port) === null)
    .map((link) => {
      const id = edgeId(link);
      const old = known.get(id);
      if (old && old.data?.via === link.via) return old;
      const from = parseAddress(link.from);
      const to = parseAddress(link.to);
      return {
        ...old,
        id,
        type: "link",
        source: from.node,
        sourceHandle: from.port,
        target: to.node,
        targetHandle: to.port,
        data: { via: link.via },
      };
    });
}

/** Where a card lies in the graph; it has no extent until it was measured. */
export const boxOf = ({ position, measured }: Node): Box => ({
  ...position,
  width: measured?.width ?? 0,
  height: measured?.height ?? 0,
});

/** Where all cards lie, by their nodes. */
export const cardBoxes = (nodes: readonly Node[]): ReadonlyMap<string, Box> =>
  new Map(nodes.filter(({ id }) => noteOf(id) === null).map((node) => [node.id, boxOf(node)]));
