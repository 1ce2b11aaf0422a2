/** Where the sheet lies that joins all cards into one layer while the view moves (graph.css says why). */
import type { Rect } from "@xyflow/react";

/** Pixels of the graph by which links and outlines may reach beyond the cards. */
const MARGIN = 200;

export function laySheetBelow(area: HTMLElement, cards: Rect): void {
  const { style } = area;
  style.setProperty("--sheet-left", `${cards.x - MARGIN}px`);
  style.setProperty("--sheet-top", `${cards.y - MARGIN}px`);
  style.setProperty("--sheet-width", `${cards.width + 2 * MARGIN}px`);
  style.setProperty("--sheet-height", `${cards.height + 2 * MARGIN}px`);
}
