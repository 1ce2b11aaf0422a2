import { type Node, type ReactFlowInstance, useReactFlow } from "@xyflow/react";
import { type Dispatch, type SetStateAction, useCallback, useRef } from "react";
import type { Edit } from "@/core/document/edits";
import { parseAddress } from "@/core/document/links";
import type { Link, Note, PieceDocument } from "@/core/document/schema";
import { useStudioStore } from "../state/store";
import { freePlace, roomFor } from "./cards/card-places";
import { boxOf, cardBoxes, edgeId, flowNodes, noteOf } from "./flow-parts";
import { duplicateEdit } from "./graph-edits";
import { insertEdit } from "./links/link-edits";
import { nodesOn } from "./note-edits";

interface Carried {
  readonly areas: ReadonlyMap<string, Node["position"]>;
  /** Where a card was, and the note area that it lies on. */
  readonly cards: ReadonlyMap<string, readonly [Node["position"], string]>;
}

const NOTHING_CARRIED: Carried = { areas: new Map(), cards: new Map() };

/** Dragging of cards and note areas: what lies on an area goes with it; a card dropped on a link takes its place in it. */
export function useNodeDrag(setNodes: Dispatch<SetStateAction<Node[]>>) {
  const store = useStudioStore();
  const flow = useReactFlow();
  /** What lies on the note areas that are dragged, and where it was. */
  const carried = useRef<Carried>(NOTHING_CARRIED);
  /** What is dragged stays, and a copy of it is put where it is dropped. */
  const copies = useRef(false);
  const start = useCallback(
    (event: unknown, _node: Node, dragged: Node[]) => {
      const { document } = store.getState().opened;
      copies.current = isHeld(event);
      const moving = new Set(dragged.map(({ id }) => id));
      const areas = new Map(dragged.filter(({ id }) => noteOf(id) !== null).map((n) => [n.id, n.position]));
      const cards = new Map<string, [Node["position"], string]>();
      for (const area of areas.keys()) {
        const note = document.graph.notes?.find(({ id }) => id === noteOf(area));
        for (const id of note ? nodesOn(document, note) : []) {
          const at = flow.getNode(id)?.position;
          if (at && !moving.has(id)) cards.set(id, [at, area]);
        }
      }
      carried.current = { areas, cards };
    },
    [store, flow],
  );
  const move = useCallback(
    (_event: unknown, _node: Node, dragged: Node[]) => {
      const { areas, cards } = carried.current;
      if (cards.size === 0) return;
      const now = new Map(dragged.map(({ id, position }) => [id, position]));
      setNodes((before) =>
        before.map((node) => {
          const [at, area] = cards.get(node.id) ?? [];
          const [from, to] = [areas.get(area ?? ""), now.get(area ?? "")];
          if (!at || !from || !to) return node;
          return { ...node, position: { x: at.x + to.x - from.x, y: at.y + to.y - from.y } };
        }),
      );
    },
    [setNodes],
  );
  const stop = useCallback(
    (_event: unknown, _node: Node, dragged: Node[]) => {
      const { opened, edit } = store.getState();
      const { document } = opened;
      const moved = [
        ...dragged,
        ...[...carried.current.cards.keys()].flatMap((id) => flow.getNode(id) ?? []),
      ];
      carried.current = NOTHING_CARRIED;
      if (copies.current && cards(dragged).length > 0) {
        const put = copiesAt(document, cards(dragged), flow.getNodes());
        // The canvas moved the cards themselves; the document has them where they were.
        setNodes((before) => flowNodes(document.graph, new Set(), before));
        edit(put.edit);
        store.getState().select(put.ids);
        return;
      }
      const at = ({ position }: Node) => [Math.round(position.x), Math.round(position.y)] as [number, number];
      const own = cards(moved);
      const notes = moved.flatMap((node): Edit[] => {
        const note = document.graph.notes?.find(({ id }) => id === noteOf(node.id));
        return note ? [{ kind: "set-note", note: { ...note, at: at(node) } satisfies Note }] : [];
      });
      const moves: Edit = { kind: "move-nodes", to: Object.fromEntries(own.map((n) => [n.id, at(n)])) };
      // A card dropped on a link takes its place in it.
      const under = own.length === 1 && notes.length === 0 ? edgeUnder(onScreen(flow, own[0])) : null;
      const found = document.graph.links.find((l) => edgeId(l) === under);
      const insert = found && insertEdit(document, own[0].id, found);
      const link = insert ? found : undefined;
      const room = own.length === 1 && notes.length === 0 ? landing(own[0], link, flow.getNodes()) : null;
      const edits = [moves, ...notes, ...(insert ? [insert] : []), ...(room ? [room] : [])];
      edit(edits.length === 1 ? moves : { kind: "several", edits });
    },
    [store, flow, setNodes],
  );
  return { start, move, stop };
}

const cards = (nodes: readonly Node[]): Node[] => nodes.filter(({ id }) => noteOf(id) === null);

const isHeld = (event: unknown): boolean =>
  (event as Partial<MouseEvent>).ctrlKey === true || (event as Partial<MouseEvent>).metaKey === true;

/** Copies of cards, with the links into them, where they were dragged to; one alone lies on none of the others. */
function copiesAt(
  document: PieceDocument,
  dragged: readonly Node[],
  nodes: readonly Node[],
): { ids: string[]; edit: Edit } {
  const [first] = dragged;
  const from = document.graph.nodes.find(({ id }) => id === first.id)?.at ?? [0, 0];
  const box = boxOf(first);
  // The original is back where it was.
  const others = new Map(cardBoxes(nodes)).set(first.id, { ...box, x: from[0], y: from[1] });
  const to = dragged.length === 1 ? freePlace(box, [...others.values()]) : box;
  const by = [to.x - from[0], to.y - from[1]] as const;
  return duplicateEdit(document, new Set(dragged.map(({ id }) => id)), by);
}

/** Where a card that was dropped lands: in between when it took its place in a link, else on none of the others. */
function landing(card: Node, into: Link | undefined, nodes: readonly Node[]): Edit | null {
  const boxes = new Map(cardBoxes(nodes));
  const box = boxOf(card);
  boxes.delete(card.id);
  if (into) {
    const [after, onto] = [parseAddress(into.from).node, parseAddress(into.to).node];
    const { at, moved } = roomFor(box, boxes, [box.x, box.y], { after, onto: [onto] });
    return { kind: "move-nodes", to: { ...moved, [card.id]: at } };
  }
  const to = freePlace(box, [...boxes.values()]);
  return to === box ? null : { kind: "move-nodes", to: { [card.id]: [Math.round(to.x), Math.round(to.y)] } };
}

/** Parts of a card's width and height at which a link may lie under it, its middle first. */
const ACROSS = [0.5, 0.3, 0.7, 0.1, 0.9];
const DOWN = [0.5, 0.25, 0.75];

/** Where a card is on the screen once it is drawn where it was dropped, which takes a while on a slow page. */
function onScreen(flow: ReactFlowInstance, card: Node): DOMRect {
  const { x, y, width, height } = boxOf(card);
  const from = flow.flowToScreenPosition({ x, y });
  const to = flow.flowToScreenPosition({ x: x + width, y: y + height });
  return new DOMRect(from.x, from.y, to.x - from.x, to.y - from.y);
}

/** The edge that lies under a card, by its id. */
function edgeUnder(box: DOMRect): string | null {
  for (const down of DOWN) {
    for (const across of ACROSS) {
      const found = document
        .elementsFromPoint(box.left + box.width * across, box.top + box.height * down)
        .map((element) => element.closest(".react-flow__edge")?.getAttribute("data-id"))
        .find((id) => id);
      if (found) return found;
    }
  }
  return null;
}
