"use client";
import clsx from "clsx";
import { ChevronDown } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { IconButton } from "@/ui/button";
import { keepAreas, keptAreas } from "../state/kept-areas";
import { useStudio, useStudioStore } from "../state/store";
import { DRAWERS, type Drawer as DrawerName } from "../state/view-state";
import { CostList } from "./cost-list";
import { OverTimePanel } from "./over-time-panel";
import { TracePanel } from "./trace-panel";
import { ValuesTable } from "./values-table";

const TITLES: Readonly<Record<DrawerName, string>> = {
  values: "Values",
  trace: "Trace",
  "over-time": "Over time",
  cost: "Cost",
};

/** Under the stage: the elements as a table, one element's way, what takes how long. Closed it is a labelled edge. */
export function Drawer() {
  const store = useStudioStore();
  const open = useStudio((s) => s.drawer);
  const [height, setHeight] = useState(() => keptAreas(store.getState().pieceId).drawer ?? 240);
  const drag = useRef<{ y: number; height: number } | null>(null);
  const box = useRef<HTMLElement>(null);
  useEffect(() => {
    if (open) box.current?.scrollIntoView({ block: "nearest" });
  }, [open]);
  return (
    <section
      ref={box}
      aria-label="Inspect"
      className="flex shrink-0 flex-col border-t border-rule bg-panel"
      style={{ height: open ? height : 27 }}
    >
      <div
        className={clsx(
          "flex h-[26px] shrink-0 items-center gap-1 px-2",
          open && "cursor-ns-resize touch-none",
        )}
        onPointerDown={(event) => {
          if (!open || (event.target as HTMLElement).closest("button")) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          drag.current = { y: event.clientY, height };
        }}
        onPointerMove={(event) => {
          if (!drag.current) return;
          setHeight(Math.min(600, Math.max(120, drag.current.height + drag.current.y - event.clientY)));
        }}
        onPointerUp={() => {
          if (drag.current) keepAreas(store.getState().pieceId, { drawer: height });
          drag.current = null;
        }}
      >
        {DRAWERS.map((name) => (
          <button
            key={name}
            type="button"
            aria-expanded={open === name}
            className={clsx(
              "h-5 rounded px-2 text-12",
              open === name ? "font-semibold text-accent" : "text-faint hover:text-ink",
            )}
            onClick={() => store.getState().set({ drawer: open === name ? null : name })}
          >
            {TITLES[name]}
          </button>
        ))}
        {open && (
          <IconButton
            label="Close the drawer"
            className="ml-auto !h-5 !w-5"
            onClick={() => store.getState().set({ drawer: null })}
          >
            <ChevronDown size={13} />
          </IconButton>
        )}
      </div>
      <div className="min-h-0 flex-1">
        {open === "values" && <ValuesTable />}
        {open === "trace" && <TracePanel />}
        {open === "over-time" && <OverTimePanel />}
        {open === "cost" && <CostList />}
      </div>
    </section>
  );
}
