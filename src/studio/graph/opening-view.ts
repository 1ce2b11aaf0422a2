/** Where a graph is looked at when it is opened: all of it if that can be read, else its end, where the result comes out. */
import { LEAST_ZOOM } from "./distance";

export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Screen = graph × zoom + (x, y), pixels. */
export interface View {
  readonly x: number;
  readonly y: number;
  readonly zoom: number;
}

/** Smaller than the least, cards are specks without words; larger than the most, a few cards look lost. */
const LEAST_OPENING = 0.28;
const MOST_ZOOM = 1;
/** All of a graph is shown when that is asked for, however small it gets. */
export const WHOLE_GRAPH = LEAST_ZOOM;

/** Of the pane's size, at each side. */
const MARGIN = 0.03;

const clamp = (v: number, low: number, high: number): number => Math.min(high, Math.max(low, v));

/**
 * @param all around the whole graph, in its units @param end around the card that must be in view
 * @param pane what it is shown in, pixels @param least the smallest zoom
 */
export function openingView(
  all: Box,
  end: Box,
  pane: Pick<Box, "width" | "height">,
  least = LEAST_OPENING,
): View {
  const inner = (size: number) => size * (1 - 2 * MARGIN);
  const fitting = Math.min(inner(pane.width) / all.width, inner(pane.height) / all.height);
  const zoom = clamp(fitting, least, MOST_ZOOM);
  const along = (axis: "x" | "y", size: "width" | "height"): number => {
    const margin = pane[size] * MARGIN;
    const [from, until] = [all[axis] * zoom, (all[axis] + all[size]) * zoom];
    if (until - from <= inner(pane[size])) return (pane[size] - from - until) / 2;
    const middle = (end[axis] + end[size] / 2) * zoom;
    return clamp(pane[size] / 2 - middle, pane[size] - margin - until, margin - from);
  };
  return { x: along("x", "width"), y: along("y", "height"), zoom };
}

/** Whether something of any card is seen. */
export const seesAny = (view: View, cards: readonly Box[], pane: Pick<Box, "width" | "height">): boolean =>
  cards.some(
    ({ x, y, width, height }) =>
      x * view.zoom + view.x < pane.width &&
      (x + width) * view.zoom + view.x > 0 &&
      y * view.zoom + view.y < pane.height &&
      (y + height) * view.zoom + view.y > 0,
  );

export const seesWhole = (
  view: View,
  { x, y, width, height }: Box,
  pane: Pick<Box, "width" | "height">,
): boolean =>
  x * view.zoom + view.x >= 0 &&
  (x + width) * view.zoom + view.x <= pane.width &&
  y * view.zoom + view.y >= 0 &&
  (y + height) * view.zoom + view.y <= pane.height;
