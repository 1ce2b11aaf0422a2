"use client";
import { type EdgeProps, getBezierPath, Position, useReactFlow } from "@xyflow/react";
import { memo } from "react";
import type { Edit } from "@/core/document/edits";
import type { Link } from "@/core/document/schema";
import { carriedKind } from "@/core/evaluate/carried";
import { KIND_WORDS } from "@/core/evaluate/convert";
import type { NodeReport } from "@/core/evaluate/report";
import type { PortKind } from "@/core/nodes/ports";
import { definitionOfNode, reportOf, useStudio, useStudioStore } from "../state/store";
import { edgeId } from "./flow-parts";
import { KIND_TINT } from "./glyphs";
import { dropLeadEdit, moveLeadEdit } from "./link-edits";
import { countText, valueText } from "./summary";

/** A link: one strand for one value, two that twine for many. The twining rests near the ports. */
export const Braid = memo(function Braid(props: EdgeProps) {
  const { source, sourceHandleId, sourceX, sourceY, targetX, targetY, selected } = props;
  const port = sourceHandleId ?? "";
  const kind = useStudio((s): PortKind => carriedKind(definitionOfNode(s, source), port) ?? "number");
  const report = useStudio((s) => reportOf(s, source));
  const many = carriesMany(report, port, kind);
  const tint = selected ? "var(--ink)" : KIND_TINT[kind];
  const via = (props.data?.via as Places | undefined) ?? NO_PLACES;
  const stops: Places = [[sourceX, sourceY], ...via, [targetX, targetY]];
  const parts = stops.slice(1).map((to, i) => [stops[i], to] as const);
  const path = parts.map(([from, to]) => bezier(from, to)).join("");
  const strands = many
    ? [0, 1].map((side) => parts.map(([from, to]) => twine(from[0], from[1], to[0], to[1])[side]).join(""))
    : [path];
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

type Places = readonly (readonly [number, number])[];
const NO_PLACES: Places = [];

const bezier = (from: Places[number], to: Places[number]): string =>
  getBezierPath({
    sourceX: from[0],
    sourceY: from[1],
    sourcePosition: Position.Right,
    targetX: to[0],
    targetY: to[1],
    targetPosition: Position.Left,
  })[0];

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

const SAMPLES = 28;
/** Widest distance of a strand from the middle line, and the length of one twist, in graph pixels. */
const WIDTH = 2.2;
const TWIST = 46;

/** Two strands around the Bézier curve that a plain link would follow. */
function twine(x0: number, y0: number, x3: number, y3: number): string[] {
  const reach = Math.max(Math.abs(x3 - x0) * 0.5, x3 < x0 ? 90 : 30);
  const [x1, x2] = [x0 + reach, x3 - reach];
  const length = Math.hypot(x3 - x0, y3 - y0);
  const turns = Math.max(1, Math.round(length / TWIST));
  return [1, -1].map((side) => {
    let d = "";
    for (let i = 0; i <= SAMPLES; i++) {
      const t = i / SAMPLES;
      const s = 1 - t;
      const x = s * s * s * x0 + 3 * s * s * t * x1 + 3 * s * t * t * x2 + t * t * t * x3;
      const y = s * s * (s + 3 * t) * y0 + t * t * (t + 3 * s) * y3;
      const dx = 3 * (s * s * (x1 - x0) + 2 * s * t * (x2 - x1) + t * t * (x3 - x2));
      const dy = 6 * s * t * (y3 - y0);
      const norm = Math.hypot(dx, dy) || 1;
      const calm = Math.min(1, Math.min(t, s) * 5);
      const off = side * WIDTH * calm * Math.sin(turns * Math.PI * t);
      d += `${i === 0 ? "M" : "L"}${(x - (dy / norm) * off).toFixed(1)} ${(y + (dx / norm) * off).toFixed(1)}`;
    }
    return d;
  });
}
