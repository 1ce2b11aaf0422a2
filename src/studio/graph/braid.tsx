"use client";
import { type EdgeProps, getBezierPath } from "@xyflow/react";
import { memo } from "react";
import { carriedKind } from "@/core/evaluate/carried";
import { KIND_WORDS } from "@/core/evaluate/convert";
import type { NodeReport } from "@/core/evaluate/report";
import type { PortKind } from "@/core/nodes/ports";
import { definitionOfNode, reportOf, useStudio } from "../state/store";
import { KIND_TINT } from "./glyphs";
import { countText, valueText } from "./summary";

/** A link: one strand for one value, two that twine for many. The twining rests near the ports. */
export const Braid = memo(function Braid(props: EdgeProps) {
  const { source, sourceHandleId, sourceX, sourceY, targetX, targetY, selected } = props;
  const port = sourceHandleId ?? "";
  const kind = useStudio((s): PortKind => carriedKind(definitionOfNode(s, source), port) ?? "number");
  const report = useStudio((s) => reportOf(s, source));
  const many = carriesMany(report, port, kind);
  const tint = selected ? "var(--ink)" : KIND_TINT[kind];
  const [path] = getBezierPath(props);
  const strands = many ? twine(sourceX, sourceY, targetX, targetY) : [path];
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
    </g>
  );
});

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
