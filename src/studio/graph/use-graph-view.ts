import { type OnMoveEnd, useNodesInitialized, useReactFlow } from "@xyflow/react";
import { type RefObject, useCallback, useLayoutEffect, useRef } from "react";
import { keepView, keptView } from "../state/kept-views";
import { useStudio, useStudioStore } from "../state/store";
import { boxOf } from "./flow-parts";
import { type Box, openingView, seesAny } from "./opening-view";

/** Height of the tools that lie on the lower edge, pixels. */
const TOOLS = 44;
/** Milliseconds until the cards of a capsule that was opened have been measured. */
const MEASURED = 60;

/**
 * A graph is looked at where it was left, else as openingView says: when the piece or a capsule is opened. Gives what is to be
 * called when the view has moved.
 */
export function useGraphView(area: RefObject<HTMLElement | null>): OnMoveEnd {
  const store = useStudioStore();
  const flow = useReactFlow();
  const prefix = useStudio((s) => s.opened.prefix);
  const measured = useNodesInitialized();
  const shown = useRef<string | null>(null);

  // Before the cards are painted for the first time.
  useLayoutEffect(() => {
    if (!measured || shown.current === prefix) return;
    const show = () => {
      shown.current = prefix;
      const seen = area.current?.getBoundingClientRect();
      const cards = flow.getNodes().map(boxOf);
      if (!seen || cards.length === 0) return;
      const pane = { width: seen.width, height: seen.height - TOOLS };
      const { pieceId, opened } = store.getState();
      const kept = keptView(pieceId + prefix);
      if (kept && seesAny(kept, cards, pane)) {
        void flow.setViewport(kept);
        return;
      }
      const stage = opened.document.graph.nodes.find(({ type }) => type === "stage");
      const end = stage ? flow.getNodesBounds([stage.id]) : cards.reduce(furthest);
      const all = flow.getNodesBounds(flow.getNodes());
      void flow.setViewport(openingView(all, end, pane));
    };
    if (shown.current === null) {
      show();
      return;
    }
    const timer = setTimeout(show, MEASURED);
    return () => clearTimeout(timer);
  }, [measured, prefix, area, flow, store]);

  return useCallback(
    (event, view) => {
      // What moves by itself is no place that was chosen.
      if (event) keepView(store.getState().pieceId + store.getState().opened.prefix, view);
    },
    [store],
  );
}

/** The one that reaches further to the right. */
const furthest = (a: Box, b: Box): Box => (b.x + b.width > a.x + a.width ? b : a);
