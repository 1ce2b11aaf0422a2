"use client";
import { useStore } from "@xyflow/react";

/** Units of the graph between two rules. */
const GAP = 28;

/**
 * Fine rules on the ground, as on card stock. Panning only moves them, so that nothing is painted anew.
 */
export function GroundRules() {
  const zoom = useStore((s) => s.transform[2]);
  const y = useStore((s) => s.transform[1]);
  const gap = GAP * zoom;
  return (
    <div className="pointer-events-none absolute inset-0 overflow-hidden" aria-hidden="true">
      <div
        className="ground-rules absolute inset-x-0 opacity-35 will-change-transform"
        style={{
          top: -gap,
          bottom: -gap,
          transform: `translateY(${((y % gap) + gap) % gap}px)`,
          background: `linear-gradient(var(--rule) 1px, transparent 1px) 0 0 / 100% ${gap}px`,
        }}
      />
    </div>
  );
}
