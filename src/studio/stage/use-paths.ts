import { type RefObject, useEffect } from "react";
import { framesOf, spreadOver } from "../export/frame-range";
import { useStudio } from "../state/store";
import { useAtRest } from "../state/use-at-rest";
import type { StageView } from "./stage-view";

/** Frames that ways are drawn through, at most. */
const MOST_FRAMES = 100;

/** Draws the ways of clones over the piece's range, anew when the piece has changed and nothing plays. */
export function usePaths(view: RefObject<StageView | null>): void {
  const wanted = useStudio((s) => s.paths);
  const first = useStudio((s) => s.document.settings.first);
  const last = useStudio((s) => s.document.settings.last);
  const lines = useAtRest(
    "paths",
    wanted ? { frames: framesOf(spreadOver({ first, last }, MOST_FRAMES)) } : null,
  );
  useEffect(() => view.current?.showGuide("paths", lines), [view, lines]);
}
