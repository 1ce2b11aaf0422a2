import type { Node } from "@xyflow/react";
import { useEffect, useRef } from "react";
import type { Graph } from "@/core/document/schema";
import { useStudioStore } from "../state/store";
import { type Boxes, roomForGrown } from "./cards/card-places";
import { cardBoxes } from "./flow-parts";

/** Pixels by which measured heights may differ for nothing. */
const SLACK = 1;

/**
 * A card that gets a row by a change of the piece, as when a value is set off its default, has those below it move on, in the same
 * step. One that is only unfolded lies over them.
 */
export function useRoomForGrown(nodes: readonly Node[], graph: Graph): void {
  const store = useStudioStore();
  const last = useRef<{ readonly boxes: Boxes; readonly graph: Graph; readonly prefix: string } | null>(null);
  useEffect(() => {
    if (nodes.some(({ dragging }) => dragging)) return;
    const { opened, unfolded, history, amend } = store.getState();
    const boxes = new Map([...cardBoxes(nodes)].filter(([, { height }]) => height > 0));
    const before = last.current;
    if (before && before.graph === graph && same(before.boxes, boxes)) return;
    last.current = { boxes, graph, prefix: opened.prefix };
    if (!before || before.prefix !== opened.prefix || history.past.length === 0 || history.future.length > 0)
      return;
    const grown = [...boxes].flatMap(([id, box]) => {
      const old = before.boxes.get(id);
      const stays = old && old.x === box.x && old.y === box.y && !unfolded.has(opened.prefix + id);
      return stays && box.height > old.height + SLACK ? [id] : [];
    });
    const to = roomForGrown(before.boxes, boxes, grown);
    if (Object.keys(to).length > 0) amend({ kind: "move-nodes", to });
  }, [nodes, graph, store]);
}

const same = (a: Boxes, b: Boxes): boolean =>
  a.size === b.size &&
  [...a].every(([id, box]) => {
    const other = b.get(id);
    return other && other.x === box.x && other.y === box.y && other.height === box.height;
  });
