/**
 * What is being dragged over the graph, told once for all cards and links: if each of them asked the canvas, all would be asked again
 * with every pixel that it is moved by.
 */
import { type Node, useConnection } from "@xyflow/react";
import { createContext, useMemo, useRef } from "react";

/** Address of the port that a link is being drawn from, and which end of a link that is; null while none is drawn. */
export interface DrawnFrom {
  readonly address: string;
  readonly end: "source" | "target";
}

export const LinkDrawnFrom = createContext<DrawnFrom | null>(null);

const NONE: ReadonlySet<string> = new Set();

/** Cards that are not yet where they will lie; links to them go straight until then. */
export const DraggedCards = createContext<ReadonlySet<string>>(NONE);

/** The same set for as long as the same cards are dragged. */
export function useDraggedCards(nodes: readonly Node[]): ReadonlySet<string> {
  const kept = useRef(NONE);
  const now = nodes.filter(({ dragging }) => dragging).map(({ id }) => id);
  if (now.length !== kept.current.size || now.some((id) => !kept.current.has(id)))
    kept.current = now.length === 0 ? NONE : new Set(now);
  return kept.current;
}

/** The port that a link is being drawn from. */
export function useDrawnFrom(): DrawnFrom | null {
  const from = useConnection((c) =>
    c.inProgress && c.fromHandle ? `${c.fromHandle.type} ${c.fromHandle.nodeId}.${c.fromHandle.id}` : null,
  );
  return useMemo(() => {
    const [end, address] = from?.split(" ") ?? [];
    return from ? { end: end as DrawnFrom["end"], address } : null;
  }, [from]);
}
