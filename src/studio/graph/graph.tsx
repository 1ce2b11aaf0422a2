"use client";
import "@xyflow/react/dist/style.css";
import "./graph.css";
import {
  applyEdgeChanges,
  applyNodeChanges,
  type Connection,
  type Edge,
  type EdgeChange,
  type FinalConnectionState,
  MiniMap,
  type Node,
  type NodeChange,
  ReactFlow,
  useConnection,
  useStore as useFlow,
  useReactFlow,
} from "@xyflow/react";
import {
  Lasso as LassoIcon,
  Map as MapIcon,
  Maximize,
  Plus,
  ScanSearch,
  StickyNote,
  Undo2,
} from "lucide-react";
import { type CSSProperties, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { exposeEdit, exposeOutputEdit } from "@/core/capsules/ports";
import type { Edit } from "@/core/document/edits";
import { joinAddress, parseAddress } from "@/core/document/links";
import type { Link, PieceDocument } from "@/core/document/schema";
import { Button, IconButton } from "@/ui/button";
import type { Opened } from "../state/opened";
import { useStudio, useStudioStore } from "../state/store";
import { Adder } from "./adder/adder";
import { Card } from "./cards/card";
import { distanceAt, LEAST_ZOOM, textAt } from "./distance";
import { DraggedCards, type DrawnFrom, LinkDrawnFrom, useDraggedCards } from "./dragging";
import { cardBoxes, edgeId, flowEdges, flowNodes, linkOf, noteOf } from "./flow-parts";
import { canConnect, connectEdit, linkRefusal, NEW_PORT, removeEdit } from "./graph-edits";
import { GraphMenu } from "./graph-menu";
import { GroundRules } from "./ground-rules";
import { Lasso } from "./lasso";
import { CardsInTheWay, LinkEdge } from "./links/edge";
import { leadEdit, removeHealedEdit } from "./links/link-edits";
import { NoteArea } from "./note-area";
import { addNoteEdit, labelBox } from "./note-edits";
import { openInstance } from "./open-instance";
import { useClipboard } from "./use-clipboard";
import { useGraphView } from "./use-graph-view";
import { useNodeDrag } from "./use-node-drag";
import { useRoomForGrown } from "./use-room-for-grown";
import { useSettledCards } from "./use-settled-cards";
import { useTouchPad } from "./use-touch-pad";
import { Way } from "./way";

const NODE_TYPES = { card: Card, note: NoteArea };
const EDGE_TYPES = { link: LinkEdge };

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

  useEffect(() => {
    setNodes((before) => flowNodes(graph, selected, before));
    setEdges((before) => flowEdges(graph, before));
  }, [graph, selected]);
  const { view, onMoved, showCard } = useGraphView(area);
  useTouchPad(area, onMoved);

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

  const cards = useSettledCards(nodes);
  useRoomForGrown(cards);
  // Links go around the words of note areas too.
  const inTheWay = useMemo(
    () => [...cards.values(), ...(graph.notes ?? []).map(labelBox).filter(({ height }) => height > 0)],
    [cards, graph.notes],
  );
  const distance = useFlow((s) => distanceAt(s.transform[2]));
  const text = useFlow((s) => textAt(s.transform[2]));

  const dragged = useDraggedCards(nodes);
  const drawnFrom = useDrawnFrom();
  const drag = useNodeDrag(setNodes);
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
  const openAdder = useCallback(
    (words?: string) => {
      const box = area.current?.getBoundingClientRect();
      if (!box) return;
      // What is added while an input has the focus feeds it.
      const row = document.activeElement?.closest<HTMLElement>("[data-input-of]");
      const { inputOf, input } = (area.current?.contains(row ?? null) && row?.dataset) || {};
      if (row && inputOf && input) {
        const { left, top } = row.getBoundingClientRect();
        const link = { address: joinAddress(inputOf, input), end: "to" as const };
        store.getState().set({ adder: { screen: [left - BESIDE, top], link, words } });
        return;
      }
      const [x, y] = pointer.current;
      const inside = x > box.left && x < box.right && y > box.top && y < box.bottom;
      store.getState().set({
        adder: { screen: inside ? [x, y] : [box.left + box.width / 2, box.top + box.height / 3], words },
      });
    },
    [store],
  );

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
    (link: Link, x: number, y: number) => {
      const { edit } = store.getState();
      const at = flow.screenToFlowPosition({ x, y });
      edit(leadEdit(link, leadBefore(link, at.x), [at.x, at.y]));
    },
    [store, flow],
  );
  const boxes = useCallback(() => cardBoxes(flow.getNodes()), [flow]);
  const addNote = useCallback(() => {
    const { opened, selected: chosen, edit } = store.getState();
    const behind = [...boxes()].filter(([id]) => chosen.has(id)).map(([, box]) => box);
    edit(addNoteEdit(opened.document, behind, place()).edit);
  }, [store, boxes, place]);

  useEffect(() => {
    store.getState().set({ graphView: { ...view, add: openAdder, note: addNote, boxes } });
    return () => store.getState().set({ graphView: null });
  }, [store, view, openAdder, addNote, boxes]);

  const defaults = useMemo(() => ({ type: "link", reconnectable: true as const }), []);
  return (
    <section
      ref={area}
      aria-label="Graph"
      className="relative h-full"
      data-distance={distance}
      style={{ "--card-text": `${text}px` } as CSSProperties}
      onDoubleClick={(event) =>
        (event.target as HTMLElement).classList.contains("react-flow__pane") && openAdder()
      }
    >
      <LinkDrawnFrom value={drawnFrom}>
        <DraggedCards value={dragged}>
          <CardsInTheWay value={inTheWay}>
            <GraphMenu onLead={lead}>
              <ReactFlow
                nodes={nodes}
                edges={edges}
                nodeTypes={NODE_TYPES}
                edgeTypes={EDGE_TYPES}
                defaultEdgeOptions={defaults}
                onNodesChange={onNodesChange}
                onEdgesChange={onEdgesChange}
                // While the view moves, what is painted is moved as a picture; it is painted anew when it rests.
                onMoveStart={() => area.current?.classList.add("graph-moving")}
                onMoveEnd={(event, moved) => {
                  area.current?.classList.remove("graph-moving");
                  onMoved(event, moved);
                }}
                onNodeDragStart={drag.start}
                onNodeDrag={drag.move}
                onNodeDragStop={drag.stop}
                onNodeDoubleClick={(_event, node) => openInstance(store, node.id)}
                onEdgeDoubleClick={(event, edge) => {
                  const link = graph.links.find((one) => edgeId(one) === edge.id);
                  if (link) lead(link, event.clientX, event.clientY);
                }}
                onSelectionDragStop={(event, dragged) => drag.stop(event, dragged[0], dragged)}
                onConnect={onConnect}
                onReconnect={onReconnect}
                onConnectEnd={onConnectEnd}
                isValidConnection={isValidConnection}
                zoomOnDoubleClick={false}
                // A chosen note area stays behind the cards; chosen cards come forward by their own order.
                elevateNodesOnSelect={false}
                deleteKeyCode={null}
                selectionKeyCode="Shift"
                multiSelectionKeyCode={["Shift", "Meta", "Control"]}
                minZoom={LEAST_ZOOM}
                maxZoom={2}
                onlyRenderVisibleElements={graph.nodes.length > MANY}
                proOptions={{ hideAttribution: true }}
                nodeDragThreshold={2}
              >
                <GroundRules />
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
            </GraphMenu>
          </CardsInTheWay>
        </DraggedCards>
      </LinkDrawnFrom>
      <Way />
      {lasso && <Lasso onDone={() => setLasso(false)} />}
      <div className="absolute bottom-3 left-3 z-10 flex items-center gap-1">
        <Button onClick={() => openAdder()} title="Add a node (/)">
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
        <IconButton label="Show the whole graph (G)" className={TOOL} onClick={view.whole}>
          <Maximize size={14} />
        </IconButton>
        <IconButton label="Show what is chosen (Shift G)" className={TOOL} onClick={view.chosen}>
          <ScanSearch size={14} />
        </IconButton>
        <IconButton label="Back to the last view (Z)" className={TOOL} onClick={view.back}>
          <Undo2 size={14} />
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
      <Adder
        toFlow={(screen) => flow.screenToFlowPosition({ x: screen[0], y: screen[1] })}
        boxes={boxes}
        onAdded={showCard}
      />
    </section>
  );
}

function useDrawnFrom(): DrawnFrom | null {
  const from = useConnection((c) =>
    c.inProgress && c.fromHandle ? `${c.fromHandle.type} ${c.fromHandle.nodeId}.${c.fromHandle.id}` : null,
  );
  return useMemo(() => {
    const [end, address] = from?.split(" ") ?? [];
    return from ? { end: end as DrawnFrom["end"], address } : null;
  }, [from]);
}

/** Cards from which only those in view are made: so far it costs less to move all of them than to make some on the way. */
const MANY = 400;

/** From an input to the right edge of what is added to feed it, pixels of the screen. */
const BESIDE = 48;

const TOOL = "border border-rule bg-panel/90 aria-pressed:text-accent";

/** A link drawn to the free port of a capsule's border makes a port there. Null for all other links. */
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

/** The link made as if the old one were gone already. */
function connectAfter(document: PieceDocument, old: Link, link: Link) {
  const links = document.graph.links.filter((l) => edgeId(l) !== edgeId(old));
  return connectEdit({ ...document, graph: { ...document.graph, links } }, link);
}
