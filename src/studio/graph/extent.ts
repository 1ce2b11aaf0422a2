import type { CSSProperties } from "react";
import type { Box } from "./opening-view";

/** Around the cards, for ports and the bends of links, pixels of the graph. */
const AROUND = 120;

/** Where the sheet under all cards lies, for `.react-flow__viewport::before` (graph.css). */
export function extentOf(boxes: readonly Box[]): CSSProperties {
  if (boxes.length === 0) return {};
  const left = Math.min(...boxes.map(({ x }) => x)) - AROUND;
  const top = Math.min(...boxes.map(({ y }) => y)) - AROUND;
  const right = Math.max(...boxes.map(({ x, width }) => x + width)) + AROUND;
  const bottom = Math.max(...boxes.map(({ y, height }) => y + height)) + AROUND;
  return {
    "--extent-left": `${left}px`,
    "--extent-top": `${top}px`,
    "--extent-width": `${right - left}px`,
    "--extent-height": `${bottom - top}px`,
  } as CSSProperties;
}
