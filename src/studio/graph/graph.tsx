"use client";
import "@xyflow/react/dist/style.css";
import "./graph.css";
import { ReactFlow, useStore as useFlow, useReactFlow } from "@xyflow/react";
import { type CSSProperties, useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Link } from "@/core/document/schema";
import { useStudio, useStudioStore } from "../state/store";
import { Adder } from "./adder/adder";
import { Breadcrumbs } from "./breadcrumbs";
import { Card } from "./cards/card";
import { distanceAt, LEAST_ZOOM, textAt } from "./distance";
import { DraggedCards, LinkDrawnFrom, useDraggedCards, useDrawnFrom } from "./dragging";
import { cardBoxes, edgeId } from "./flow-parts";
import { GraphMenu } from "./graph-menu";
import { GraphMap, GraphTools } from "./graph-tools";
import { GroundRules } from "./ground-rules";
import { Lasso } from "./lasso";
import { CardsInTheWay, LinkEdge } from "./links/edge";
import { leadEdit } from "./links/link-edits";
import { NoteArea } from "./note-area";
import { addNoteEdit, labelBox } from "./note-edits";
import { openInstance } from "./open-instance";
import { laySheetBelow } from "./sheet-below";
import { useClipboard } from "./use-clipboard";
import { useDrawnLinks } from "./use-drawn-links";
import { useFlowParts } from "./use-flow-parts";
import { useGraphKeys } from "./use-graph-keys";
import { useGraphView } from "./use-graph-view";
import { useNodeDrag } from "./use-node-drag";
import { useRoomForGrown } from "./use-room-for-grown";
import { useSettledCards } from "./use-settled-cards";
import { useTouchPad } from "./use-touch-pad";

const NODE_TYPES = { card: Card, note: NoteArea };
const EDGE_TYPES = { link: LinkEdge };

/** The node canvas. Positions while dragging live here; the document hears of them when the drag ends. */
export function Graph() {
  const store = useStudioStore();
  const graph = useStudio((s) => s.opened.document.graph);
  const area = useRef<HTMLDivElement>(null);
  const flow = useReactFlow();
  const { nodes, setNodes, edges, onNodesChange, onEdgesChange } = useFlowParts();
  const [lasso, setLasso] = useState(false);
  const { view, onMoved, showCard } = useGraphView(area);
  useTouchPad(area, onMoved);

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
  const drawn = useDrawnLinks(store);
  const { openAdder, place } = useGraphKeys(store, area, nodes, edges);
  useClipboard(store, place);
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
                onMoveStart={() => {
                  if (!area.current) return;
                  laySheetBelow(area.current, flow.getNodesBounds(flow.getNodes()));
                  area.current.classList.add("graph-moving");
                }}
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
                {...drawn}
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
                <GraphMap />
              </ReactFlow>
            </GraphMenu>
          </CardsInTheWay>
        </DraggedCards>
      </LinkDrawnFrom>
      <Breadcrumbs />
      {lasso && <Lasso onDone={() => setLasso(false)} />}
      <GraphTools
        view={view}
        lasso={lasso}
        onLasso={() => setLasso(!lasso)}
        onAdd={() => openAdder()}
        onNote={addNote}
      />
      <Adder
        toFlow={(screen) => flow.screenToFlowPosition({ x: screen[0], y: screen[1] })}
        boxes={boxes}
        onAdded={showCard}
      />
    </section>
  );
}

/** Cards from which only those in view are made: so far it costs less to move all of them than to make some on the way. */
const MANY = 400;

/** Number of the first place of a link that lies right of where one is put. */
function leadBefore(link: Link, x: number): number {
  const at = (link.via ?? []).findIndex((place) => place[0] > x);
  return at < 0 ? (link.via?.length ?? 0) : at;
}
