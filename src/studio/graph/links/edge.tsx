"use client";
import { type EdgeProps, useReactFlow } from "@xyflow/react";
import { createContext, memo, useContext, useMemo } from "react";
import type { Edit } from "@/core/document/edits";
import type { Link } from "@/core/document/schema";
import { carriedKind } from "@/core/evaluate/carried";
import { KIND_WORDS } from "@/core/evaluate/convert";
import type { NodeReport } from "@/core/evaluate/report";
import type { PortKind } from "@/core/nodes/ports";
import { definitionOfNode, reportOf, useStudio, useStudioStore } from "../../state/store";
import { KIND_TINT } from "../cards/glyphs";
import { countText, valueText } from "../cards/summary";
import { DraggedCards } from "../dragging";
import { edgeId } from "../flow-parts";
import type { Box } from "../opening-view";
import { dropLeadEdit, moveLeadEdit } from "./link-edits";
import { lineOf, strandsOf } from "./link-line";
import { type Place, routeOf } from "./link-route";

/** Where the cards lie that links go around; the same list until one has been moved or has grown. */
export const CardsInTheWay = createContext<readonly Box[]>([]);
const NONE: readonly Box[] = [];

/** A link: one strand for one value, two that twine for many. The twining rests near the ports. */
export const LinkEdge = memo(function LinkEdge(props: EdgeProps) {
  const { source, sourceHandleId, sourceX, sourceY, targetX, targetY, selected } = props;
  const port = sourceHandleId ?? "";
  const kind = useStudio((s): PortKind => carriedKind(definitionOfNode(s, source), port) ?? "number");
  const report = useStudio((s) => reportOf(s, source));
  const many = carriesMany(report, port, kind);
  const tint = selected ? "var(--ink)" : KIND_TINT[kind];
  const via = (props.data?.via as Places | undefined) ?? NO_PLACES;
  const cards = useContext(CardsInTheWay);
  // A card that is being dragged is not yet where it will lie; its links go straight until then.
  const dragged = useContext(DraggedCards);
  const moving = dragged.has(source) || dragged.has(props.target);
  const { path, strands } = useMemo(() => {
    const stops: Places = [[sourceX, sourceY], ...via, [targetX, targetY]];
    const lane = laneOf(source + port);
    const routes = stops.slice(1).map((to, i) => routeOf(stops[i], to, moving ? NONE : cards, lane));
    const middle = routes.map(lineOf).join("");
    return {
      path: middle,
      strands: many ? [0, 1].map((side) => routes.map((route) => strandsOf(route)[side]).join("")) : [middle],
    };
  }, [sourceX, sourceY, targetX, targetY, via, moving, cards, many, source, port]);
  return (
    <g data-many={many}>
      <path
        d={path}
        className="react-flow__edge-interaction"
        fill="none"
        stroke="transparent"
        strokeWidth={14}
      >
        <title>{`${KIND_WORDS[kind]}: ${carriedText(report, port)}`}</title>
      </path>
      {strands.map((d, i) => (
        <path
          key={d}
          d={d}
          fill="none"
          stroke={tint}
          strokeWidth={selected ? 2 : 1.4}
          opacity={i === 1 ? 0.55 : 0.95}
          pointerEvents="none"
        />
      ))}
      {via.map((place, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a place's identity is its number on the way
        <Lead key={i} edge={props.id} at={i} place={place} tint={tint} />
      ))}
    </g>
  );
});

/** Links of one port have one number, and so run on one line. */
const laneOf = (port: string): number => [...port].reduce((sum, letter) => sum + letter.charCodeAt(0), 0);

type Places = readonly Place[];
const NO_PLACES: Places = [];

interface LeadProps {
  readonly edge: string;
  /** Its number on the way. */
  readonly at: number;
  readonly place: readonly [number, number];
  readonly tint: string;
}

/** A place that a link is led through: dragged, or taken away by a double click. */
function Lead({ edge, at, place, tint }: LeadProps) {
  const store = useStudioStore();
  const flow = useReactFlow();
  const change = (make: (link: Link) => Edit, group?: string) => {
    const { opened, edit } = store.getState();
    const link = opened.document.graph.links.find((l) => edgeId(l) === edge);
    if (link) edit(make(link), group);
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: links are led by pointer; without it they are drawn as they are
    <circle
      cx={place[0]}
      cy={place[1]}
      r={5}
      fill="var(--panel)"
      stroke={tint}
      strokeWidth={2}
      className="nodrag nopan cursor-move touch-none"
      style={{ pointerEvents: "all" }}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        const { x, y } = flow.screenToFlowPosition({ x: event.clientX, y: event.clientY });
        change((link) => moveLeadEdit(link, at, [x, y]), `lead ${edge} ${at}`);
      }}
      onPointerUp={() => store.getState().endGroup()}
      onDoubleClick={(event) => {
        event.stopPropagation();
        change((link) => dropLeadEdit(link, at));
      }}
    >
      <title>Drag it, or double-click to take it away</title>
    </circle>
  );
}

function carriesMany(report: NodeReport | undefined, port: string, kind: PortKind): boolean {
  if (kind === "shape") return (report?.tally?.sites ?? 0) > 1;
  return report?.values?.[port]?.ranges !== undefined;
}

function carriedText(report: NodeReport | undefined, port: string): string {
  if (!report) return "not worked out yet";
  if (report.tally) {
    const { sites, faces } = report.tally;
    return (
      [sites > 0 && `${countText(sites)} sites`, faces > 0 && `${countText(faces)} faces`]
        .filter(Boolean)
        .join(", ") || "empty"
    );
  }
  const value = report.values?.[port];
  return `${valueText(value) || "nothing yet"}${value?.count ? `, ${countText(value.count)} elements` : ""}`;
}
