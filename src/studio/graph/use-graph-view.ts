import { type OnMoveEnd, useNodesInitialized, useReactFlow, type Viewport } from "@xyflow/react";
import { type RefObject, useCallback, useEffect, useLayoutEffect, useMemo, useRef } from "react";
import { keptViews } from "../state/kept-views";
import { useStudio, useStudioStore } from "../state/store";
import type { GraphView } from "../state/view-state";
import { boxOf } from "./flow-parts";
import { stageOf } from "./graph-edits";
import { type Box, openingView, seesAny, seesWhole, WHOLE_GRAPH } from "./opening-view";

/** Height of the tools that lie on the lower edge, pixels. */
const TOOLS = 44;
/** Milliseconds until the cards of a capsule that was opened have been measured. */
const MEASURED = 60;
/** Views that can be gone back to. */
const MOST_BACK = 30;

/**
 * How the graph is looked at. A graph is opened where it was left, else as openingView says. A view that was fitted is
 * fitted anew when the area changes; what was moved by hand keeps its middle. Views that were moved away from can be gone back to.
 */
export function useGraphView(area: RefObject<HTMLElement | null>): {
  readonly view: Omit<GraphView, "add" | "note" | "boxes">;
  readonly onMoved: OnMoveEnd;
  readonly showCard: (node: string) => void;
} {
  const store = useStudioStore();
  const flow = useReactFlow();
  const prefix = useStudio((s) => s.opened.prefix);
  const measured = useNodesInitialized();
  const shown = useRef<string | null>(null);
  /** What the present view was fitted to; null once it was moved by hand. */
  const fitted = useRef<"whole" | "opening" | null>(null);
  /** Views in the order in which they rested; the last one is the present. */
  const rested = useRef<Viewport[]>([]);

  const go = useCallback(
    (view: Viewport) => {
      rested.current = [...rested.current, view].slice(-MOST_BACK);
      void flow.setViewport(view);
    },
    [flow],
  );
  const view = useMemo((): Omit<GraphView, "add" | "note" | "boxes"> => {
    const around = (nodes: readonly string[] | null) => {
      const pane = paneOf(area.current);
      const boxes = nodes ? flow.getNodesBounds([...nodes]) : flow.getNodesBounds(flow.getNodes());
      if (!pane || boxes.width === 0) return;
      go(openingView(boxes, boxes, pane, WHOLE_GRAPH));
      fitted.current = nodes === null ? "whole" : null;
    };
    return {
      whole: () => around(null),
      chosen: () => around(store.getState().selected.size > 0 ? [...store.getState().selected] : null),
      show: (nodes) => {
        if (nodes.length > 0) around(nodes);
      },
      back: () => {
        const before = rested.current.at(-2);
        if (!before) return;
        rested.current = rested.current.slice(0, -1);
        fitted.current = null;
        void flow.setViewport(before);
      },
      shape: () => {
        const pane = paneOf(area.current);
        return pane ? pane.width / pane.height : 1;
      },
    };
  }, [area, flow, go, store]);
  /** All of it if that can be read, else its end, where the result comes out. */
  const open = useCallback(() => {
    const pane = paneOf(area.current);
    const cards = flow.getNodes().map(boxOf);
    if (!pane || cards.length === 0) return;
    const stage = stageOf(store.getState().opened.document);
    const end = stage ? flow.getNodesBounds([stage.id]) : cards.reduce(furthest);
    go(openingView(flow.getNodesBounds(flow.getNodes()), end, pane));
    fitted.current = "opening";
  }, [area, flow, go, store]);

  // Before the cards are painted for the first time.
  useLayoutEffect(() => {
    if (!measured || shown.current === prefix) return;
    const show = () => {
      shown.current = prefix;
      rested.current = [];
      const pane = paneOf(area.current);
      const kept = keptViews.get(store.getState().pieceId + prefix);
      fitted.current = null;
      if (kept && pane && seesAny(kept, flow.getNodes().map(boxOf), pane)) go(kept);
      else open();
    };
    if (shown.current === null) {
      show();
      return;
    }
    const timer = setTimeout(show, MEASURED);
    return () => clearTimeout(timer);
  }, [measured, prefix, area, flow, store, go, open]);

  useEffect(() => {
    const seen = area.current;
    if (!seen) return;
    let before = paneOf(seen);
    const observer = new ResizeObserver(() => {
      const now = paneOf(seen);
      // A folded area has no size; what was seen in it stays.
      if (!before || !now || now.width < 40 || now.height < 40) return;
      const { x, y, zoom } = flow.getViewport();
      if (fitted.current === "whole") view.whole();
      else if (fitted.current === "opening") open();
      else if (before.width >= 40)
        void flow.setViewport({
          x: x + (now.width - before.width) / 2,
          y: y + (now.height - before.height) / 2,
          zoom,
        });
      before = now;
    });
    observer.observe(seen);
    return () => observer.disconnect();
  }, [area, flow, view, open]);

  const showCard = useCallback(
    (node: string) => {
      setTimeout(() => {
        const [pane, card] = [paneOf(area.current), flow.getNode(node)];
        if (!pane || !card) return;
        const all = flow.getNodesBounds(flow.getNodes());
        // What was seen whole stays so while it can be read.
        const whole = openingView(all, boxOf(card), pane);
        if (fitted.current && seesWhole(whole, all, pane)) return go(whole);
        if (seesWhole(flow.getViewport(), boxOf(card), pane)) return;
        go(whole);
      }, MEASURED);
    },
    [area, flow, go],
  );

  const onMoved = useCallback<OnMoveEnd>(
    (event, moved) => {
      // What moves by itself is no place that was chosen.
      if (!event) return;
      fitted.current = null;
      rested.current = [...rested.current, moved].slice(-MOST_BACK);
      const { x, y, zoom } = moved;
      keptViews.keep(store.getState().pieceId + store.getState().opened.prefix, { x, y, zoom });
    },
    [store],
  );
  return { view, onMoved, showCard };
}

/** Where cards are seen: the graph's area without its tools. */
function paneOf(area: HTMLElement | null): Pick<Box, "width" | "height"> | null {
  const seen = area?.getBoundingClientRect();
  return seen ? { width: seen.width, height: seen.height - TOOLS } : null;
}

/** The one that reaches further to the right. */
const furthest = (a: Box, b: Box): Box => (b.x + b.width > a.x + a.width ? b : a);
