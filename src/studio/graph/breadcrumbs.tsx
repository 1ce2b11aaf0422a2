"use client";
import { ChevronRight } from "lucide-react";
import { useStudio, useStudioStore } from "../state/store";

/** Which capsule is open, and the way back out. */
export function Breadcrumbs() {
  const store = useStudioStore();
  const name = useStudio((s) => s.document.name);
  const { path, titles } = useStudio((s) => s.opened);
  if (path.length === 0) return null;
  const steps = [name, ...titles];
  return (
    <nav
      aria-label="Open capsules"
      className="absolute top-3 left-3 z-10 flex items-center gap-1 rounded-6 border border-rule bg-panel/95 px-2 py-1 text-12"
    >
      {steps.map((title, depth) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a step has no other identity than its depth
        <span key={depth} className="flex items-center gap-1">
          {depth > 0 && <ChevronRight size={12} className="text-faint" />}
          {depth === steps.length - 1 ? (
            <span aria-current="step" className="font-semibold text-accent">
              {title}
            </span>
          ) : (
            <button
              type="button"
              className="max-w-40 truncate text-faint hover:text-ink"
              onClick={() => store.getState().openPath(path.slice(0, depth))}
            >
              {title}
            </button>
          )}
        </span>
      ))}
      <kbd className="tabular ml-1 text-11 text-faint">Esc</kbd>
    </nav>
  );
}
