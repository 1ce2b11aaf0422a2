"use client";
import { useReactFlow } from "@xyflow/react";
import { type PointerEvent, useState } from "react";
import { isInside } from "@/core/maths/polygon";
import { useStudioStore } from "../state/store";
import { noteOf } from "./flow-parts";

/** An outline drawn by hand; the cards whose middles lie in it are chosen. Shift adds to what is chosen. */
export function Lasso({ onDone }: { onDone: () => void }) {
  const store = useStudioStore();
  const flow = useReactFlow();
  const [outline, setOutline] = useState<readonly (readonly [number, number])[]>([]);
  const place = (event: PointerEvent<SVGSVGElement>): [number, number] => {
    const box = event.currentTarget.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };
  const finish = (event: PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const inGraph = outline.flatMap(([x, y]) => {
      const at = flow.screenToFlowPosition({ x: x + box.left, y: y + box.top });
      return [at.x, at.y];
    });
    const found = flow
      .getNodes()
      .filter(({ id, position, measured }) => {
        const middle = [
          position.x + (measured?.width ?? 0) / 2,
          position.y + (measured?.height ?? 0) / 2,
        ] as const;
        return noteOf(id) === null && isInside(inGraph, ...middle);
      })
      .map(({ id }) => id);
    const { selected, select } = store.getState();
    select(event.shiftKey ? [...selected, ...found] : found);
    onDone();
  };
  return (
    <svg
      role="application"
      aria-label="Draw around the cards to choose"
      className="absolute inset-0 z-20 size-full cursor-crosshair touch-none"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        setOutline([place(event)]);
      }}
      onPointerMove={(event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId)) setOutline([...outline, place(event)]);
      }}
      onPointerUp={finish}
    >
      {outline.length > 1 && (
        <path
          d={`M${outline.map((p) => p.join(" ")).join("L")}Z`}
          fill="color-mix(in srgb, var(--accent) 12%, transparent)"
          stroke="var(--accent)"
          strokeDasharray="4 3"
        />
      )}
    </svg>
  );
}
