"use client";
import clsx from "clsx";
import { type KeyboardEvent, type PointerEvent, type RefObject, useEffect, useMemo, useRef } from "react";
import type { Vec3 } from "@/core/maths/vector";
import { nodeOf, useKeyedFrame, useStudio, useStudioStore } from "../state/store";
import { keyWords } from "../timeline/track-edits";
import { ARROW_STEPS } from "./arrow-steps";
import { draggedTo, type HandleSpot, handlesOf, spotPlace, steppedBy } from "./handle-spots";
import { pointerRay, towards } from "./sight";
import type { StageView } from "./stage-view";
import { useSpotPlaces } from "./use-spot-places";

/** Units of a step by an arrow key. */
const STEP = 0.1;

/** Seeds over the stage: places and distances of the chosen node, to be dragged or moved by arrow keys. */
export function StageHandles({ view }: { readonly view: RefObject<StageView | null> }) {
  const store = useStudioStore();
  const selected = useStudio((s) => s.selected);
  const opened = useStudio((s) => s.opened);
  const frame = useKeyedFrame(useStudio((s) => s.selected.size === 1 && nodeOf(s, [...s.selected][0])?.keys));
  const { spots, lines } = useMemo(
    () => handlesOf({ ...store.getState(), opened, selected }, frame),
    [store, selected, opened, frame],
  );
  const box = useRef<HTMLDivElement>(null);
  const dragged = useRef<HandleSpot | null>(null);

  useEffect(() => {
    const stage = view.current;
    stage?.showGuide("reach", lines.length > 0 ? Float32Array.from(lines) : null);
    return () => stage?.showGuide("reach", null);
  }, [view, lines]);
  useSpotPlaces(view, box, spots, spotPlace);

  const set = ({ node, input, min }: HandleSpot, to: number | Vec3, group?: string) => {
    const value = typeof to === "number" ? Math.max(min ?? 0, rounded(to)) : to.map(rounded);
    store.getState().edit({ kind: "set-input", node, input, value }, group);
  };
  const onMove = (event: PointerEvent) => {
    const spot = dragged.current;
    const rect = box.current?.getBoundingClientRect();
    const stage = view.current;
    if (!spot || !rect || !stage) return;
    const ray = pointerRay(
      stage.camera,
      (event.clientX - rect.left) / rect.width,
      (event.clientY - rect.top) / rect.height,
    );
    const group = `drag ${spot.node}.${spot.input}`;
    set(spot, draggedTo(spot, ray, towards(stage.camera), event.shiftKey), group);
  };
  const onUp = () => {
    if (dragged.current) store.getState().endGroup();
    dragged.current = null;
  };
  const onKeyDown = (event: KeyboardEvent, spot: HandleSpot) => {
    const by = ARROW_STEPS[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    set(spot, steppedBy(spot, by.map((b) => b * STEP) as unknown as Vec3));
  };
  return (
    <div
      ref={box}
      className="pointer-events-none absolute inset-0 overflow-hidden"
      onPointerMove={onMove}
      onPointerUp={onUp}
    >
      {spots.map((spot) => (
        <button
          key={`${spot.node}.${spot.input}`}
          type="button"
          aria-label={`${spot.input} of ${spot.node}: ${keyWords(VALUES[spot.kind](spot))}`}
          title={
            spot.kind === "distance"
              ? `${spot.input}: drag or press arrow keys`
              : `${spot.input}: drag over the ground, with Shift up and down; arrow keys and Page up and down`
          }
          className={clsx(
            "pointer-events-auto absolute -translate-x-1/2 -translate-y-1/2 cursor-move rounded-full border-2 border-ground touch-none",
            LOOKS[spot.kind],
          )}
          // Until a picture is drawn there is no place for it.
          style={UNPLACED}
          data-grip
          onPointerDown={(event) => {
            event.stopPropagation();
            dragged.current = spot;
            box.current?.setPointerCapture(event.pointerId);
          }}
          onKeyDown={(event) => onKeyDown(event, spot)}
        />
      ))}
    </div>
  );
}

const LOOKS = {
  place: "z-10 h-4 w-4 bg-accent",
  distance: "h-3 w-3 bg-ink hover:bg-accent",
  direction: "h-3 w-3 rotate-45 rounded-none! bg-accent hover:bg-ink",
} as const;

const VALUES: Readonly<Record<HandleSpot["kind"], (spot: HandleSpot) => number | Vec3>> = {
  place: ({ from }) => from,
  distance: ({ value }) => value,
  direction: ({ along }) => along,
};

const rounded = (n: number): number => Number(n.toFixed(3));

const UNPLACED = { display: "none" };
