import { type OnMoveEnd, useNodesInitialized, useReactFlow } from "@xyflow/react";
import { type RefObject, useCallback, useLayoutEffect, useRef } from "react";
import { keepView, keptView } from "../state/kept-views";
import { useStudio, useStudioStore } from "../state/store";
import { boxOf } from "./flow-parts";
import { stageOf } from "./graph-edits";
import { type Box, openingView, seesAny, seesWhole } from "./opening-view";

/** Height of the tools that lie on the lower edge, pixels. */
const TOOLS = 44;
/** Milliseconds until the cards of a capsule that was opened have been measured. */
const MEASURED = 60;

/**
 * A graph is looked at where it was left, else as openingView says: when the piece or a capsule is opened. Gives what is to be
 * called when the view has moved, and what brings a card into view that was just made.
 */
export function useGraphView(area: RefObject<HTMLElement | null>): {
  readonly onMoved: OnMoveEnd;
  readonly showCard: (node: string) => void;
} {
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
      const pane = paneOf(area.current);
      const cards = flow.getNodes().map(boxOf);
      if (!pane || cards.length === 0) return;
      const { pieceId, opened } = store.getState();
      const kept = keptView(pieceId + prefix);
      if (kept && seesAny(kept, cards, pane)) {
        void flow.setViewport(kept);
        return;
      }
      const stage = stageOf(opened.document);
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

  const showCard = useCallback(
    (node: string) => {
      setTimeout(() => {
        const [pane, card] = [paneOf(area.current), flow.getNode(node)];
        if (!pane || !card || seesWhole(flow.getViewport(), boxOf(card), pane)) return;
        void flow.setViewport(openingView(flow.getNodesBounds(flow.getNodes()), boxOf(card), pane));
      }, MEASURED);
    },
    [area, flow],
  );

  const onMoved = useCallback<OnMoveEnd>(
    (event, view) => {
      // What moves by itself is no place that was chosen.
      if (event) keepView(store.getState().pieceId + store.getState().opened.prefix, view);
    },
    [store],
  );
  return { onMoved, showCard };
}

/** Where cards are seen: the graph's area without its tools. */
function paneOf(area: HTMLElement | null): Pick<Box, "width" | "height"> | null {
  const seen = area?.getBoundingClientRect();
  return seen ? { width: seen.width, height: seen.height - TOOLS } : null;
}

/** The one that reaches further to the right. */
const furthest = (a: Box, b: Box): Box => (b.x + b.width > a.x + a.width ? b : a);
