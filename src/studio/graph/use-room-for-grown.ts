import { useEffect, useRef } from "react";
import { useStudioStore } from "../state/store";
import { type Boxes, roomForGrown } from "./cards/card-places";

/** Pixels by which measured heights may differ for nothing. */
const SLACK = 1;

/**
 * A card that gets a row by a change of the piece, as when a value is set off its default, has those below it move on, in the same
 * step. One that is only unfolded lies over them.
 * @param boxes of all cards, another map only when one has been moved or has grown
 */
export function useRoomForGrown(boxes: Boxes): void {
  const store = useStudioStore();
  const last = useRef<{ readonly boxes: Boxes; readonly prefix: string } | null>(null);
  useEffect(() => {
    const { opened, unfolded, history, amend } = store.getState();
    const before = last.current;
    last.current = { boxes, prefix: opened.prefix };
    if (before?.prefix !== opened.prefix || history.past.length === 0 || history.future.length > 0) return;
    const grown = [...boxes].flatMap(([id, box]) => {
      const old = before.boxes.get(id);
      const stays = old && old.x === box.x && old.y === box.y && !unfolded.has(opened.prefix + id);
      return stays && box.height > old.height + SLACK ? [id] : [];
    });
    const to = roomForGrown(before.boxes, boxes, grown);
    if (Object.keys(to).length > 0) amend({ kind: "move-nodes", to });
  }, [boxes, store]);
}
