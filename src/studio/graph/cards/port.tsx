"use client";
import { Handle, Position } from "@xyflow/react";
import clsx from "clsx";
import { useContext } from "react";
import { parseAddress } from "@/core/document/links";
import { KIND_WORDS, linkFault } from "@/core/evaluate/convert";
import type { PortKind } from "@/core/nodes/ports";
import { definitionOfNode, useStudioStore } from "../../state/store";
import { LinkDrawnFrom } from "../dragging";
import { KIND_TINT, KindGlyph } from "./glyphs";

interface PortProps {
  readonly node: string;
  readonly port: string;
  readonly kind: PortKind;
  readonly side: "input" | "output";
  /** Takes (or may carry) a value per element: the outer edge is a comb. */
  readonly comb: boolean;
  readonly linked: boolean;
  readonly about: string;
}

/** Three teeth of 2 px on the outer edge, painted: a clip or a filter would cost each port a picture of its own. */
function combed(tint: string, outer: "left" | "right"): string {
  const inner = outer === "left" ? "right" : "left";
  return `linear-gradient(${tint} 0 0) ${inner} / 15px 100% no-repeat, repeating-linear-gradient(${tint} 0 2px, transparent 2px 4px) ${outer} / 3px 100% no-repeat`;
}

/** A port: flat, with the glyph of its kind. Fades while a link is dragged that it cannot take. */
export function Port({ node, port, kind, side, comb, linked, about }: PortProps) {
  const fault = useDragFault(node, kind, side);
  const input = side === "input";
  const tint = linked ? KIND_TINT[kind] : `color-mix(in srgb, ${KIND_TINT[kind]} 75%, black)`;
  return (
    <Handle
      id={port}
      type={input ? "target" : "source"}
      position={input ? Position.Left : Position.Right}
      title={fault ?? `${about} (${KIND_WORDS[kind]}${comb ? ", per element" : ""})`}
      role="img"
      aria-label={`${side} ${port} of ${node}`}
      className={clsx("glemmo-port", fault && "opacity-20")}
      data-free={!linked}
      style={{ background: "none" }}
    >
      <span
        className="pointer-events-none flex h-3.5 w-[18px] items-center justify-center"
        style={{ background: comb ? combed(tint, input ? "left" : "right") : tint }}
      >
        <KindGlyph kind={kind} />
      </span>
    </Handle>
  );
}

/** Why the link that is being dragged cannot end here; null when it can, or when none is dragged. */
function useDragFault(node: string, kind: PortKind, side: "input" | "output"): string | null {
  const from = useContext(LinkDrawnFrom);
  const store = useStudioStore();
  if (!from) return null;
  const start = parseAddress(from.address);
  const fromInput = from.end === "target";
  if (start.node === node) return start.port ? "A node cannot feed itself." : null;
  if (fromInput === (side === "input")) return "Links go from outputs to inputs.";
  const definition = definitionOfNode(store.getState(), start.node);
  const other: PortKind | undefined = (
    fromInput ? definition?.inputs[start.port] : definition?.outputs[start.port]
  )?.kind;
  if (!other) return null;
  return fromInput ? linkFault(kind, other) : linkFault(other, kind);
}
