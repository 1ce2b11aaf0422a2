"use client";
import { useEffect } from "react";

/** Text that is cut where there is no room for it: on one line, or after some lines. */
const CUT = ".truncate, [class*=line-clamp]";

/**
 * Whatever is cut is shown whole by the pointer, or when it gets the focus, before what else it says of itself. Looked for when
 * it is asked for: hundreds of lines would else be measured whenever anything changes.
 */
export function CutTitles() {
  useEffect(() => {
    const tell = ({ target }: Event) => {
      if (!(target instanceof Element)) return;
      const line = target.closest<HTMLElement>(CUT) ?? target.querySelector<HTMLElement>(CUT);
      if (!line) return;
      line.dataset.said ??= line.title;
      const isCut = line.scrollWidth > line.clientWidth || line.scrollHeight > line.clientHeight + 1;
      const text = line.textContent?.trim() ?? "";
      const title = [isCut ? text : "", line.dataset.said].filter(Boolean).join("\n");
      if (line.title !== title) line.title = title;
    };
    document.addEventListener("pointerover", tell);
    document.addEventListener("focusin", tell);
    return () => {
      document.removeEventListener("pointerover", tell);
      document.removeEventListener("focusin", tell);
    };
  }, []);
  return null;
}
