"use client";
import "@xyflow/react/dist/style.css";
import "./graph.css";
import {
  applyEdgeChanges,
  applyNodeChanges,
  Background,
  BackgroundVariant,
  type Connection,
  type Edge,
  type EdgeChange,
  type FinalConnectionState,
  MiniMap,
  type Node,
  type NodeChange,
  ReactFlow,
  useReactFlow,
} from "@xyflow/react";
import { Lasso as LassoIcon, Map as MapIcon, Plus, StickyNote } from "lucide-react";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { exposeEdit, exposeOutputEdit } from "@/core/capsules/ports";
import type { Edit } from "@/core/document/edits";
import { joinAddress, parseAddress } from "@/core/document/links";
import type { Link, Note, PieceDocument } from "@/core/document/schema";
import { Button, IconButton } from "@/ui/button";
import type { Opened } from "../state/opened";
import { useStudio, useStudioStore } from "../state/store";
import { Adder } from "./adder";
import { Braid } from "./braid";
import { Card } from "./card";
import { edgeId, flowEdges, flowNodes, linkOf, noteOf } from "./flow-parts";
import { canConnect, connectEdit, linkRefusal, NEW_PORT, removeEdit } from "./graph-edits";
import { InputMenuArea } from "./input-menu";
import { Lasso } from "./lasso";
import { insertEdit, leadEdit, removeHealedEdit } from "./link-edits";
import { NoteArea } from "./note-area";
import { addNoteEdit, nodesOn } from "./note-edits";
import { openInstance } from "./open-instance";
import { useClipboard } from "./use-clipboard";
import { Way } from "./way";

const NODE_TYPES = { card: Card, note: NoteArea };
const EDGE_TYPES = { braid: Braid };

/** The node canvas. Positions while dragging live here; the document hears of them when the drag ends. */
export function Graph() {
  const store = useStudioStore();
  const graph = useStudio((s) => s.opened.document.graph);
  const selected = useStudio((s) => s.selected);
  const area = useRef<HTMLDivElement>(null);
  const flow = useReactFlow();
  const [nodes, setNodes] = useState<Node[]>(() => flowNodes(graph, selected));
  const [edges, setEdges] = useState<Edge[]>(() => flowEdges(graph, []));
  const [lasso, setLasso] = useState(false);
  const miniMap = useStudio((s) => s.miniMap);
  const prefix = useStudio((s) => s.opened.prefix);

  useEffect(() => {
    setNodes((before) => flowNodes(graph, selected, before));
    setEdges((before) => flowEdges(graph, before));
  }, [graph, selected]);
  // Another capsule is another graph: all of it is brought into view.
  const shown = useRef(prefix);
  useEffect(() => {
    if (shown.current === prefix) return;
    shown.current = prefix;
    const timer = setTimeout(() => void flow.fitView(FIT), 60);
    return () => clearTimeout(timer);
  }, [prefix, flow]);

  const onNodesChange = useCallback(
    (changes: NodeChange[]) => {
      setNodes((before) => applyNodeChanges(changes, before));
      const picks = changes.filter((change) => change.type === "select" && noteOf(change.id) === null);
      if (picks.length > 0) {
        const next = new Set(store.getState().selected);
        for (const pick of picks) {
          if (pick.type !== "select") continue;
          if (pick.selected) next.add(pick.id);
          else next.delete(pick.id);
        }
        store.getState().select(next);
      }
    },
    [store],
  );
  const onEdgesChange = useCallback(
    (changes: EdgeChange[]) => setEdges((before) => applyEdgeChanges(changes, before)),
    [],
  );

  /** What lies on the note areas that are dragged, and where it was. */
  const carried = useRef<{
    readonly areas: Map<string, Node["position"]>;
    readonly cards: Map<string, [Node["position"], string]>;
  }>(NOTHING_CARRIED);
  const onNodeDragStart = useCallback(
    (_event: unknown, _node: Node, dragged: Node[]) => {
      const { document } = store.getState().opened;
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
  const onNodeDrag = useCallback((_event: unknown, _node: Node, dragged: Node[]) => {
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
  }, []);
  const onNodeDragStop = useCallback(
    (_event: unknown, _node: Node, dragged: Node[]) => {
      const { opened, edit } = store.getState();
      const { document } = opened;
      const moved = [
        ...dragged,
        ...[...carried.current.cards.keys()].flatMap((id) => flow.getNode(id) ?? []),
      ];
      carried.current = NOTHING_CARRIED;
      const at = ({ position }: Node) => [Math.round(position.x), Math.round(position.y)] as [number, number];
      const cards = moved.filter(({ id }) => noteOf(id) === null);
      const notes = moved.flatMap((node): Edit[] => {
        const note = document.graph.notes?.find(({ id }) => id === noteOf(node.id));
        return note ? [{ kind: "set-note", note: { ...note, at: at(node) } satisfies Note }] : [];
      });
      const move: Edit = { kind: "move-nodes", to: Object.fromEntries(cards.map((n) => [n.id, at(n)])) };
      // A card dropped on a link takes its place in it.
      const under = cards.length === 1 && notes.length === 0 ? edgeUnder(cards[0].id) : null;
      const link = document.graph.links.find((l) => edgeId(l) === under);
      const insert = link && insertEdit(document, cards[0].id, link);
      const edits = [move, ...notes, ...(insert ? [insert] : [])];
      edit(edits.length === 1 ? move : { kind: "several", edits });
    },
    [store, flow],
  );
  const isValidConnection = useCallback(
    (connection: Connection | Edge) => canConnect(store.getState().opened.document, linkOf(connection)),
    [store],
  );
  const onConnect = useCallback(
    (connection: Connection) => {
      const { opened, edit, editPiece } = store.getState();
      const link = linkOf(connection);
      const grown = newPortEdit(opened, link);
      if (grown) editPiece(grown);
      else edit(connectEdit(opened.document, link));
    },
    [store],
  );
  const onReconnect = useCallback(
    (old: Edge, connection: Connection) => {
      const { opened, edit } = store.getState();
      const { document } = opened;
      const link = linkOf(connection);
      if (edgeId(link) === old.id) return;
      edit({
        kind: "several",
        edits: [{ kind: "remove", links: [linkOf(old)] }, connectAfter(document, linkOf(old), link)],
      });
    },
    [store],
  );
  const onConnectEnd = useCallback(
    (event: MouseEvent | TouchEvent, state: FinalConnectionState) => {
      if (state.isValid || !state.fromHandle) return;
      const point = "changedTouches" in event ? event.changedTouches[0] : event;
      const onto = state.toHandle;
      const address = joinAddress(state.fromHandle.nodeId, state.fromHandle.id ?? "");
      if (onto) {
        const between = betweenPorts(state.fromHandle, onto);
        const { opened, set } = store.getState();
        if (!between || onto.id === NEW_PORT || onto.nodeId === state.fromHandle.nodeId) return;
        const why = linkRefusal(opened.document, between);
        // What would feed itself is told; what is of another kind can be converted.
        if (why.kind === "ring") set({ notice: why.what });
        else
          set({
            adder: {
              screen: [point.clientX, point.clientY],
              link: { address: between.from, end: "from" },
              into: between.to,
            },
          });
        return;
      }
      store.getState().set({
        adder: {
          screen: [point.clientX, point.clientY],
          link: {
            address,
            end: state.fromHandle.type === "source" ? "from" : "to",
          },
        },
      });
    },
    [store],
  );

  const nodesNow = useRef(nodes);
  nodesNow.current = nodes;
  const pointer = useRef<[number, number]>([0, 0]);
  const openAdder = useCallback(() => {
    const box = area.current?.getBoundingClientRect();
    if (!box) return;
    const [x, y] = pointer.current;
    const inside = x > box.left && x < box.right && y > box.top && y < box.bottom;
    store
      .getState()
      .set({ adder: { screen: inside ? [x, y] : [box.left + box.width / 2, box.top + box.height / 3] } });
  }, [store]);

  /** Where the pointer is over the graph, else the middle of what is seen of it. */
  const place = useCallback((): [number, number] => {
    const box = area.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    const [x, y] = pointer.current;
    const inside = x > box.left && x < box.right && y > box.top && y < box.bottom;
    const at = flow.screenToFlowPosition(
      inside ? { x, y } : { x: box.left + box.width / 2, y: box.top + box.height / 2 },
    );
    return [at.x, at.y];
  }, [flow]);
  useClipboard(store, place);

  useEffect(() => {
    const onMove = (event: PointerEvent) => {
      pointer.current = [event.clientX, event.clientY];
    };
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (target.closest("input, textarea, [role=dialog], [role=listbox]")) return;
      if (event.key === "/") {
        event.preventDefault();
        openAdder();
      } else if (event.key === "Delete" || event.key === "Backspace") {
        const { opened, selected: chosen, edit } = store.getState();
        const { document } = opened;
        const links = edges.filter((edge) => edge.selected).map(linkOf);
        const noted = nodesNow.current.some((n) => n.selected && noteOf(n.id) !== null);
        if (chosen.size === 0 && links.length === 0 && !noted) return;
        event.preventDefault();
        const notes = nodesNow.current.filter((n) => n.selected).flatMap((n) => noteOf(n.id) ?? []);
        const removal = event.shiftKey
          ? removeEdit(document, chosen, links)
          : removeHealedEdit(document, chosen, links);
        edit(notes.length > 0 ? { kind: "several", edits: [removal, { kind: "remove", notes }] } : removal);
        store.getState().select([]);
      }
    };
    window.addEventListener("pointermove", onMove);
    window.addEventListener("keydown", onKey);
    return () => {
      window.removeEventListener("pointermove", onMove);
      window.removeEventListener("keydown", onKey);
    };
  }, [store, edges, openAdder]);

  /** Leads a link through the place of the pointer. */
  const lead = useCallback(
    (edge: Edge, x: number, y: number) => {
      const { opened, edit } = store.getState();
      const link = opened.document.graph.links.find((l) => edgeId(l) === edge.id);
      if (!link) return;
      const at = flow.screenToFlowPosition({ x, y });
      edit(leadEdit(link, leadBefore(link, at.x), [at.x, at.y]));
    },
    [store, flow],
  );
  const addNote = useCallback(() => {
    const { opened, selected: chosen, edit } = store.getState();
    const boxes = flow
      .getNodes()
      .filter(({ id }) => chosen.has(id))
      .map(({ position, measured }) => ({
        ...position,
        width: measured?.width ?? 0,
        height: measured?.height ?? 0,
      }));
    edit(addNoteEdit(opened.document, boxes, place()).edit);
  }, [store, flow, place]);

  const defaults = useMemo(() => ({ type: "braid", reconnectable: true as const }), []);
  return (
    <section
      ref={area}
      aria-label="Graph"
      className="relative h-full"
      onDoubleClick={(event) =>
        (event.target as HTMLElement).classList.contains("react-flow__pane") && openAdder()
      }
    >
      <InputMenuArea>
        <ReactFlow
          nodes={nodes}
          edges={edges}
          nodeTypes={NODE_TYPES}
          edgeTypes={EDGE_TYPES}
          defaultEdgeOptions={defaults}
          onNodesChange={onNodesChange}
          onEdgesChange={onEdgesChange}
          onNodeDragStart={onNodeDragStart}
          onNodeDrag={onNodeDrag}
          onNodeDragStop={onNodeDragStop}
          onNodeDoubleClick={(_event, node) => openInstance(store, node.id)}
          onEdgeDoubleClick={(event, edge) => lead(edge, event.clientX, event.clientY)}
          onSelectionDragStop={(event, dragged) => onNodeDragStop(event, dragged[0], dragged)}
          onConnect={onConnect}
          onReconnect={onReconnect}
          onConnectEnd={onConnectEnd}
          isValidConnection={isValidConnection}
          zoomOnDoubleClick={false}
          deleteKeyCode={null}
          selectionKeyCode="Shift"
          multiSelectionKeyCode={["Shift", "Meta", "Control"]}
          minZoom={0.15}
          maxZoom={2}
          fitView
          fitViewOptions={FIT}
          onlyRenderVisibleElements={graph.nodes.length > 80}
          proOptions={{ hideAttribution: true }}
          nodeDragThreshold={2}
        >
          <Background
            variant={BackgroundVariant.Lines}
            gap={[100000, 28]}
            color="var(--rule)"
            style={{ opacity: 0.35 }}
          />
          {miniMap && (
            <MiniMap
              pannable
              zoomable
              ariaLabel="Map of the graph"
              bgColor="var(--panel)"
              maskColor="color-mix(in srgb, var(--ground) 70%, transparent)"
              nodeColor={(node) =>
                node.type === "note" ? "transparent" : node.selected ? "var(--accent)" : "var(--faint)"
              }
              nodeStrokeColor="var(--rule)"
              style={{ width: 150, height: 100, border: "1px solid var(--rule)", borderRadius: 6 }}
            />
          )}
        </ReactFlow>
      </InputMenuArea>
      <Way />
      {lasso && <Lasso onDone={() => setLasso(false)} />}
      <div className="absolute bottom-3 left-3 z-10 flex items-center gap-1">
        <Button onClick={openAdder} title="Add a node (/)">
          <Plus size={14} /> Add <kbd className="tabular text-11 text-faint">/</kbd>
        </Button>
        <IconButton
          label="Choose by drawing around"
          aria-pressed={lasso}
          className={TOOL}
          onClick={() => setLasso(!lasso)}
        >
          <LassoIcon size={14} />
        </IconButton>
        <IconButton label="Put a note area behind what is chosen" className={TOOL} onClick={addNote}>
          <StickyNote size={14} />
        </IconButton>
        <IconButton
          label="Map of the graph (M)"
          aria-pressed={miniMap}
          className={TOOL}
          onClick={() => store.getState().set({ miniMap: !miniMap })}
        >
          <MapIcon size={14} />
        </IconButton>
      </div>
      <Adder toFlow={(screen) => flow.screenToFlowPosition({ x: screen[0], y: screen[1] })} />
    </section>
  );
}

const TOOL = "border border-rule bg-panel/90 aria-pressed:text-accent";
const FIT = { padding: 0.06, maxZoom: 0.9, minZoom: 0.6 } as const;
const NOTHING_CARRIED = { areas: new Map(), cards: new Map() };

/** A link drawn to the free tab of a capsule's border makes a port there. Null for all other links. */
function newPortEdit({ document, capsule }: Opened, { from, to }: Link): Edit | null {
  if (capsule === null) return null;
  if (parseAddress(from).port === NEW_PORT) return exposeEdit(document, capsule, to);
  return parseAddress(to).port === NEW_PORT ? exposeOutputEdit(document, capsule, from) : null;
}

interface End {
  readonly nodeId: string;
  readonly id?: string | null;
  readonly type: string;
}

/** The link that was meant, whichever end it was drawn from; null between two of a side. */
function betweenPorts(a: End, b: End): Link | null {
  if (a.type === b.type) return null;
  const [from, to] = a.type === "source" ? [a, b] : [b, a];
  return { from: joinAddress(from.nodeId, from.id ?? ""), to: joinAddress(to.nodeId, to.id ?? "") };
}

/** Number of the first place of a link that lies right of where one is put. */
function leadBefore(link: Link, x: number): number {
  const at = (link.via ?? []).findIndex((place) => place[0] > x);
  return at < 0 ? (link.via?.length ?? 0) : at;
}

/** Parts of a card's width and height at which a link may lie under it, its middle first. */
const ACROSS = [0.5, 0.3, 0.7, 0.1, 0.9];
const DOWN = [0.5, 0.25, 0.75];

/** The edge that lies under a card, by its id. */
function edgeUnder(node: string): string | null {
  const box = document.querySelector(`.react-flow__node[data-id="${node}"]`)?.getBoundingClientRect();
  if (!box) return null;
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

/** The link made as if the old one were gone already. */
function connectAfter(document: PieceDocument, old: Link, link: Link) {
  const links = document.graph.links.filter((l) => edgeId(l) !== edgeId(old));
  return connectEdit({ ...document, graph: { ...document.graph, links } }, link);
}
