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
  type Node,
  type NodeChange,
  ReactFlow,
  useReactFlow,
} from "@xyflow/react";
import { Plus } from "lucide-react";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Edit } from "@/core/document/edits";
import { joinAddress, parseAddress } from "@/core/document/links";
import type { Link, PieceDocument } from "@/core/document/schema";
import { Button } from "@/ui/button";
import { useStudio, useStudioStore } from "../state/store";
import { Adder } from "./adder";
import { Braid } from "./braid";
import { Card } from "./card";
import { canConnect, connectEdit, insertEdit, removeEdit } from "./graph-edits";
import { useClipboard } from "./use-clipboard";

const NODE_TYPES = { card: Card };
const EDGE_TYPES = { braid: Braid };

const edgeId = (link: Link) => `${link.from}>${link.to}`;
const linkOf = (c: {
  source: string;
  target: string;
  sourceHandle?: string | null;
  targetHandle?: string | null;
}): Link => ({
  from: joinAddress(c.source, c.sourceHandle ?? ""),
  to: joinAddress(c.target, c.targetHandle ?? ""),
});

/** The node canvas. Positions while dragging live here; the document hears of them when the drag ends. */
export function Graph() {
  const store = useStudioStore();
  const graph = useStudio((s) => s.document.graph);
  const selected = useStudio((s) => s.selected);
  const area = useRef<HTMLDivElement>(null);
  const flow = useReactFlow();
  const [nodes, setNodes] = useState<Node[]>(() => nodesOf(graph, selected));
  const [edges, setEdges] = useState<Edge[]>(() => edgesOf(graph, []));

  useEffect(() => {
    setNodes((before) => nodesOf(graph, selected, before));
    setEdges((before) => edgesOf(graph, before));
  }, [graph, selected]);

  const onNodesChange = useCallback(
    (changes: NodeChange[]) => {
      setNodes((before) => applyNodeChanges(changes, before));
      const picks = changes.filter((change) => change.type === "select");
      if (picks.length > 0) {
        const next = new Set(store.getState().selected);
        for (const pick of picks) {
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

  const onNodeDragStop = useCallback(
    (_event: unknown, _node: Node, dragged: Node[]) => {
      const { document, edit } = store.getState();
      const to = Object.fromEntries(
        dragged.map((n) => [n.id, [Math.round(n.position.x), Math.round(n.position.y)] as const]),
      );
      const move: Edit = { kind: "move-nodes", to };
      // A card dropped on a link takes its place in it.
      const under = dragged.length === 1 ? edgeUnder(dragged[0].id) : null;
      const link = document.graph.links.find((l) => edgeId(l) === under);
      const insert = link && insertEdit(document, dragged[0].id, link);
      edit(insert ? { kind: "several", edits: [move, insert] } : move);
    },
    [store],
  );
  const isValidConnection = useCallback(
    (connection: Connection | Edge) => canConnect(store.getState().document, linkOf(connection)),
    [store],
  );
  const onConnect = useCallback(
    (connection: Connection) => {
      const { document, edit } = store.getState();
      edit(connectEdit(document, linkOf(connection)));
    },
    [store],
  );
  const onReconnect = useCallback(
    (old: Edge, connection: Connection) => {
      const { document, edit } = store.getState();
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
      if (state.isValid || state.toHandle || !state.fromHandle) return;
      const point = "changedTouches" in event ? event.changedTouches[0] : event;
      store.getState().set({
        adder: {
          screen: [point.clientX, point.clientY],
          link: {
            address: joinAddress(state.fromHandle.nodeId, state.fromHandle.id ?? ""),
            end: state.fromHandle.type === "source" ? "from" : "to",
          },
        },
      });
    },
    [store],
  );

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
        const { document, selected: chosen, edit } = store.getState();
        const links = edges.filter((edge) => edge.selected).map(linkOf);
        if (chosen.size === 0 && links.length === 0) return;
        event.preventDefault();
        edit(removeEdit(document, chosen, links));
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
      <ReactFlow
        nodes={nodes}
        edges={edges}
        nodeTypes={NODE_TYPES}
        edgeTypes={EDGE_TYPES}
        defaultEdgeOptions={defaults}
        onNodesChange={onNodesChange}
        onEdgesChange={onEdgesChange}
        onNodeDragStop={onNodeDragStop}
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
        fitViewOptions={{ padding: 0.06, maxZoom: 0.9, minZoom: 0.6 }}
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
      </ReactFlow>
      <Button className="absolute bottom-3 left-3 z-10" onClick={openAdder} title="Add a node (/)">
        <Plus size={14} /> Add <kbd className="tabular text-11 text-faint">/</kbd>
      </Button>
      <Adder toFlow={(screen) => flow.screenToFlowPosition({ x: screen[0], y: screen[1] })} />
    </section>
  );
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

function nodesOf(
  graph: PieceDocument["graph"],
  selected: ReadonlySet<string>,
  before: readonly Node[] = [],
): Node[] {
  const known = new Map(before.map((node) => [node.id, node]));
  return graph.nodes.map((node) => {
    const old = known.get(node.id);
    const position = { x: node.at[0], y: node.at[1] };
    const isSelected = selected.has(node.id);
    if (old && old.selected === isSelected && old.position.x === position.x && old.position.y === position.y)
      return old;
    return {
      ...old,
      id: node.id,
      type: "card",
      position,
      data: {},
      selected: isSelected,
      ariaLabel: `node ${node.id}`,
    };
  });
}

function edgesOf(graph: PieceDocument["graph"], before: readonly Edge[]): Edge[] {
  const known = new Map(before.map((edge) => [edge.id, edge]));
  return graph.links.map((link) => {
    const id = edgeId(link);
    const from = parseAddress(link.from);
    const to = parseAddress(link.to);
    return (
      known.get(id) ?? {
        id,
        type: "braid",
        source: from.node,
        sourceHandle: from.port,
        target: to.node,
        targetHandle: to.port,
      }
    );
  });
}
