import type { Node } from "@xyflow/react";
import { useRef } from "react";
import type { Boxes } from "./cards/card-places";
import { cardBoxes } from "./flow-parts";

/** Where the cards that were measured lie; the same map while any is dragged, and while nothing has changed. */
export function useSettledCards(nodes: readonly Node[]): Boxes {
  const kept = useRef<Boxes>(new Map());
  if (!nodes.some(({ dragging }) => dragging)) {
    const now = new Map([...cardBoxes(nodes)].filter(([, { height }]) => height > 0));
    if (!same(kept.current, now)) kept.current = now;
  }
  return kept.current;
}

const same = (a: Boxes, b: Boxes): boolean =>
  a.size === b.size &&
  [...a].every(([id, box]) => {
    const other = b.get(id);
    return other && other.x === box.x && other.y === box.y && other.height === box.height;
  });
