import type { Node } from "@xyflow/react";
import { useRef } from "react";
import type { Note } from "@/core/document/schema";
import { cardBoxes } from "../flow-parts";
import { labelBox } from "../note-edits";
import type { Box } from "../opening-view";

/**
 * What links go around: where all cards and the labels of note areas lie. The same list while any is dragged, and while nothing
 * has changed.
 */
export function useSettledBoxes(nodes: readonly Node[], notes: readonly Note[] | undefined): readonly Box[] {
  const kept = useRef<readonly Box[]>([]);
  if (!nodes.some(({ dragging }) => dragging)) {
    const now = [...cardBoxes(nodes).values(), ...(notes ?? []).map(labelBox)].filter(
      ({ height }) => height > 0,
    );
    const isSame = (box: Box, i: number) => {
      const old = kept.current[i];
      return old && old.x === box.x && old.y === box.y && old.height === box.height;
    };
    if (now.length !== kept.current.length || !now.every(isSame)) kept.current = now;
  }
  return kept.current;
}
