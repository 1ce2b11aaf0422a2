"use client";
import clsx from "clsx";
import type { LucideIcon } from "lucide-react";
import type { ReactNode } from "react";

interface StageToolsProps {
  readonly label: string;
  readonly taken: boolean;
  readonly icon: LucideIcon;
  /** Of the button that takes the tool up and lays it down. */
  readonly verb: string;
  readonly title: string;
  readonly onTake: () => void;
  readonly children: ReactNode;
}

/** What can be done with something that is drawn on the stage, under it: first its tool, taken up by a button. */
export function StageTools({ label, taken, icon: Icon, verb, title, onTake, children }: StageToolsProps) {
  return (
    <div
      role="toolbar"
      aria-label={label}
      className="absolute bottom-[52px] left-1/2 flex -translate-x-1/2 items-center gap-1 rounded-6 border border-rule bg-panel/90 p-0.5 text-12"
    >
      <button
        type="button"
        aria-pressed={taken}
        className={clsx(
          "flex h-6 items-center gap-1.5 rounded px-2 whitespace-nowrap",
          taken ? "bg-accent font-semibold text-ground" : "hover:bg-raised",
        )}
        title={title}
        onClick={onTake}
      >
        <Icon size={13} />
        {taken ? "Done (Esc)" : verb}
      </button>
      {children}
    </div>
  );
}
