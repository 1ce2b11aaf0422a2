import { type RefObject, useEffect } from "react";
import { framesOf } from "../export/frame-range";
import { useStudio, useStudioStore, useTime } from "../state/store";
import type { StageView } from "./stage-view";

/** Frames that ways are drawn through, at most. */
const MOST_FRAMES = 100;
/** Milliseconds of rest after a change before ways are worked out again. */
const REST = 400;

/** Draws the ways of clones over the piece's range, anew when the piece has changed and nothing plays. */
export function usePaths(view: RefObject<StageView | null>): void {
  const store = useStudioStore();
  const wanted = useStudio((s) => s.paths);
  const document = useStudio((s) => s.document);
  const isPlaying = useTime((t) => t.playing);
  useEffect(() => {
    const stage = view.current;
    if (!wanted || isPlaying) return;
    let isOver = false;
    const { first, last } = document.settings;
    const step = Math.max(1, Math.ceil((last - first) / MOST_FRAMES));
    const timer = setTimeout(async () => {
      const frames = framesOf({ first, last, step });
      // It gives way to whatever else the engine is asked for, and asks again.
      for (let tries = 0; tries < 5 && !isOver; tries++) {
        const lines = await store
          .getState()
          .query?.("paths", { frames })
          .catch(() => null);
        if (!lines) continue;
        if (!isOver) stage?.showGuide("paths", lines);
        return;
      }
    }, REST);
    return () => {
      isOver = true;
      clearTimeout(timer);
    };
  }, [store, view, wanted, document, isPlaying]);
  useEffect(() => {
    if (!wanted) view.current?.showGuide("paths", null);
  }, [view, wanted]);
}
