"use client";
import clsx from "clsx";
import { Brush, Eraser, Trash2 } from "lucide-react";
import { type PointerEvent, type RefObject, useMemo, useRef, useState } from "react";
import { type Dab, MOST_DABS, NOTHING_PAINTED, type PaintedMask } from "@/core/maths/painted-mask";
import type { Vec3 } from "@/core/maths/vector";
import type { Setting } from "@/core/nodes/ports";
import { IconButton } from "@/ui/button";
import { NumberField } from "@/ui/number-field";
import { nodeOf, useKeyedFrame, useStudio, useStudioStore } from "../state/store";
import { drawnInput } from "./drawn-input";
import { seenRadius } from "./sight";
import { StageTools } from "./stage-tools";
import type { StageView } from "./stage-view";
import { useLeaving } from "./use-leaving";

type View = RefObject<StageView | null>;

/** Part of the radius that the brush goes before it touches again. */
const APART = 0.25;

interface Painting {
  readonly node: string;
  readonly input: string;
  readonly mask: PaintedMask;
}

/** The mask of the chosen node, painted on what the stage shows. */
export function MaskPainting({ view }: { readonly view: View }) {
  const store = useStudioStore();
  const selected = useStudio((s) => s.selected);
  const opened = useStudio((s) => s.opened);
  const frame = useKeyedFrame(useStudio((s) => s.selected.size === 1 && nodeOf(s, [...s.selected][0])?.keys));
  const shown = useMemo((): Painting | null => {
    const found = drawnInput({ ...store.getState(), opened, selected }, "painted", frame);
    return found && { ...found, mask: found.settingOf(found.input) as unknown as PaintedMask };
  }, [store, selected, opened, frame]);
  if (!shown) return null;
  return <MaskOnStage key={`${shown.node}.${shown.input}`} view={view} shown={shown} />;
}

function MaskOnStage({ view, shown }: { readonly view: View; readonly shown: Painting }) {
  const store = useStudioStore();
  const { mask, node, input } = shown;
  const [painting, setPainting] = useState(false);
  const [erasing, setErasing] = useState(false);
  const [radius, setRadius] = useState(0.3);
  const [strength, setStrength] = useState(0.35);
  const box = useRef<HTMLDivElement>(null);
  const ring = useRef<HTMLDivElement>(null);
  /** Touches since the brush came down, and what there was before. */
  const stroke = useRef<{ readonly before: PaintedMask; readonly dabs: Dab[] } | null>(null);
  const set = (to: PaintedMask, group?: string) =>
    store.getState().edit({ kind: "set-input", node, input, value: to as unknown as Setting }, group);

  const placeOf = (event: PointerEvent): { place: Vec3 | null; rect: DOMRect } | null => {
    const rect = box.current?.getBoundingClientRect();
    if (!rect || !view.current) return null;
    const [x, y] = [(event.clientX - rect.left) / rect.width, (event.clientY - rect.top) / rect.height];
    return { place: view.current.placeAt(x, y), rect };
  };
  /** The brush over the stage: as large as it is where the surface lies. */
  const showRing = (event: PointerEvent, place: Vec3 | null, rect: DOMRect) => {
    const style = ring.current?.style;
    if (!style || !view.current) return;
    style.display = place ? "" : "none";
    if (!place) return;
    const size = 2 * seenRadius(view.current.camera, place, radius) * rect.height;
    [style.width, style.height] = [`${size}px`, `${size}px`];
    [style.left, style.top] = [`${event.clientX - rect.left}px`, `${event.clientY - rect.top}px`];
  };
  const touch = (place: Vec3) => {
    if (!stroke.current) return;
    const { before, dabs } = stroke.current;
    if (before.dabs.length + dabs.length >= MOST_DABS) return;
    const last = dabs[dabs.length - 1]?.at;
    if (last && Math.hypot(place[0] - last[0], place[1] - last[1], place[2] - last[2]) < radius * APART)
      return;
    const at = place.map((v) => Number(v.toFixed(4))) as unknown as Vec3;
    dabs.push({ at, radius, amount: erasing ? -strength : strength });
    set({ dabs: [...before.dabs, ...dabs] }, `paint ${node}.${input}`);
  };
  const end = () => {
    if (stroke.current) store.getState().endGroup();
    stroke.current = null;
  };
  useLeaving(painting, () => setPainting(false));
  return (
    <>
      <div
        ref={box}
        className={clsx(
          "absolute inset-0 overflow-hidden",
          painting ? "cursor-none touch-none" : "pointer-events-none",
        )}
        data-testid="mask-painting"
        onPointerDown={(event) => {
          const found = painting && event.button === 0 ? placeOf(event) : null;
          if (!found?.place) return;
          box.current?.setPointerCapture(event.pointerId);
          stroke.current = { before: mask, dabs: [] };
          touch(found.place);
        }}
        onPointerMove={(event) => {
          const found = painting ? placeOf(event) : null;
          if (!found) return;
          showRing(event, found.place, found.rect);
          if (found.place && stroke.current) touch(found.place);
        }}
        onPointerUp={end}
        onPointerCancel={end}
      >
        <div
          ref={ring}
          style={{ display: "none" }}
          className={clsx(
            "pointer-events-none absolute -translate-x-1/2 -translate-y-1/2 rounded-full border-2",
            erasing ? "border-ink border-dashed" : "border-accent",
          )}
        />
      </div>
      <StageTools
        label="Mask"
        taken={painting}
        icon={Brush}
        verb="Paint"
        title="Paint over what the stage shows"
        onTake={() => setPainting(!painting)}
      >
        <IconButton label={erasing ? "Paint on" : "Erase"} onClick={() => setErasing(!erasing)}>
          <Eraser size={13} className={erasing ? "text-accent" : ""} />
        </IconButton>
        <NumberField
          className="w-[62px]"
          label="Radius of the brush"
          value={radius}
          min={0.01}
          soft={[0.05, 2]}
          unit="units"
          onChange={setRadius}
        />
        <NumberField
          className="w-[52px]"
          label="Strength of the brush"
          value={strength}
          min={0.01}
          max={1}
          soft={[0, 1]}
          onChange={setStrength}
        />
        <IconButton
          label="Clear the mask"
          disabled={mask.dabs.length === 0}
          onClick={() => set(NOTHING_PAINTED)}
        >
          <Trash2 size={13} />
        </IconButton>
      </StageTools>
    </>
  );
}
