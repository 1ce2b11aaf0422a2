"use client";
import clsx from "clsx";
import { Dialog } from "@/ui/dialog";
import { editWords } from "../state/edit-words";
import { useStudio, useStudioStore } from "../state/store";

/** Every step that can be undone or redone, in words; choosing one goes there. */
export function HistoryList({ onClose }: { onClose: () => void }) {
  const store = useStudioStore();
  const { past, future } = useStudio((s) => s.history);
  const steps = [...past, ...[...future].reverse()];
  const go = (to: number) => {
    for (let at = past.length; at > to; at--) store.getState().undo();
    for (let at = past.length; at < to; at++) store.getState().redo();
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title="What was done"
      about="Choose a step to go back or forward to it."
      className="w-[420px]"
    >
      <ol className="max-h-[420px] overflow-auto text-12" aria-label="Steps">
        {[...steps.keys()].reverse().map((i) => (
          <li key={i}>
            <button
              type="button"
              aria-current={i === past.length - 1 ? "step" : undefined}
              className={clsx(
                "flex h-6 w-full items-center gap-2 rounded px-2 text-left hover:bg-raised",
                i >= past.length && "text-faint italic",
                i === past.length - 1 && "font-semibold text-accent",
              )}
              onClick={() => go(i + 1)}
            >
              <span className="tabular w-8 shrink-0 text-11 text-faint">{i + 1}</span>
              <span className="truncate">{editWords(steps[i].forward)}</span>
            </button>
          </li>
        ))}
        <li>
          <button
            type="button"
            aria-current={past.length === 0 ? "step" : undefined}
            className={clsx(
              "flex h-6 w-full items-center gap-2 rounded px-2 text-left hover:bg-raised",
              past.length === 0 && "font-semibold text-accent",
            )}
            onClick={() => go(0)}
          >
            <span className="tabular w-8 shrink-0 text-11 text-faint">0</span> As it was opened
          </button>
        </li>
      </ol>
    </Dialog>
  );
}
