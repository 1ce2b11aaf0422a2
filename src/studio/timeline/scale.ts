/** Frames and places of the strip. The ruler and the rows of keys share one scale. */
import { useEffect, useRef, useState } from "react";
import { useStudio } from "../state/store";

/** Playing, the ruler or a row, and what belongs to it: one grid, so that frames lie above each other. */
export const TIMELINE_GRID = "grid grid-cols-[200px_1fr_264px] items-center gap-3 px-3";

export interface Scale {
  readonly first: number;
  readonly last: number;
  /** Share of the width at which a frame lies, as CSS. */
  place(frame: number): string;
  /** The frame under a pointer, not rounded. */
  at(clientX: number): number;
}

/** The scale of an element that is as wide as the range of frames. */
export function useScale() {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(600);
  const { first, last } = useStudio((s) => s.document.settings);
  useEffect(() => {
    if (!box.current) return;
    const watcher = new ResizeObserver(([entry]) => setWidth(entry.contentRect.width));
    watcher.observe(box.current);
    return () => watcher.disconnect();
  }, []);
  const count = Math.max(1, last - first);
  const scale: Scale = {
    first,
    last,
    place: (frame) => `${((frame - first) / count) * 100}%`,
    at(clientX) {
      const rect = box.current?.getBoundingClientRect();
      return rect && rect.width > 0 ? first + ((clientX - rect.left) / rect.width) * count : first;
    },
  };
  return { box, width, count, scale };
}
