"use client";
import { Minus, Plus } from "lucide-react";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import { toHex } from "@/core/maths/color";
import {
  GRADIENT_SPACES,
  type Gradient,
  type GradientSpace,
  type GradientStop,
  gradientAt,
} from "@/core/maths/gradient";
import { evenStops, PALETTES } from "@/core/maths/palettes";
import { IconButton } from "@/ui/button";
import { ColorField } from "@/ui/color-field";
import { NumberField } from "@/ui/number-field";
import { Select } from "@/ui/select";
import { gradientStyle } from "../graph/cards/gradient-style";
import { Histogram } from "../graph/cards/histogram";

interface GradientEditorProps {
  readonly value: Gradient;
  /** Counts of what arrives between the low and the high end, drawn above the colours. */
  readonly bins?: readonly number[];
  readonly onChange: (value: Gradient, dragging: boolean) => void;
  readonly onDragEnd: () => void;
}

/** Stops under a bar of colour: drag, add by a click on the bar, arrow keys, Delete. */
export function GradientEditor({ value, bins, onChange, onDragEnd }: GradientEditorProps) {
  const [chosen, setChosen] = useState(0);
  const bar = useRef<HTMLDivElement>(null);
  const at = Math.min(chosen, value.stops.length - 1);
  const stop = value.stops[at];

  const setStop = (index: number, change: Partial<GradientStop>, dragging = false) =>
    onChange(
      { ...value, stops: value.stops.map((s, i) => (i === index ? { ...s, ...change } : s)) },
      dragging,
    );
  const placeOf = (event: { clientX: number }) => {
    const box = bar.current?.getBoundingClientRect();
    return box
      ? Math.round(Math.min(1, Math.max(0, (event.clientX - box.left) / box.width)) * 1000) / 1000
      : 0;
  };
  const add = (place: number) => {
    onChange(
      {
        ...value,
        stops: [...value.stops, { at: place, color: toHex(gradientAt(value, place)) }],
      },
      false,
    );
    setChosen(value.stops.length);
  };
  const remove = () => {
    if (value.stops.length < 2) return;
    onChange({ ...value, stops: value.stops.filter((_, i) => i !== at) }, false);
    setChosen(Math.max(0, at - 1));
  };
  const onKeyDown = (event: KeyboardEvent, index: number) => {
    const step = event.shiftKey ? 0.001 : 0.01;
    const move = event.key === "ArrowRight" ? step : event.key === "ArrowLeft" ? -step : 0;
    if (move !== 0)
      setStop(index, {
        at: Math.round(Math.min(1, Math.max(0, value.stops[index].at + move)) * 1000) / 1000,
      });
    else if (event.key === "Delete" || event.key === "Backspace") remove();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const dragStop = (index: number) => ({
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      setChosen(index);
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      if (event.currentTarget.hasPointerCapture(event.pointerId))
        setStop(index, { at: placeOf(event) }, true);
    },
    onPointerUp: onDragEnd,
  });
  return (
    <div className="grid gap-2">
      <div>
        {bins && <Histogram bins={bins} className="-mb-px h-9 w-full" />}
        {/* biome-ignore lint/a11y/noStaticElementInteractions lint/a11y/useKeyWithClickEvents: the button below adds a stop by keyboard */}
        <div
          ref={bar}
          className="h-5 cursor-copy rounded-t border border-rule"
          style={gradientStyle(value)}
          onClick={(event) => add(placeOf(event))}
        />
        <div className="relative mx-px h-4">
          {value.stops.map((s, index) => (
            <button
              // biome-ignore lint/suspicious/noArrayIndexKey: a stop's identity is its place in the list
              key={index}
              type="button"
              aria-label={`Stop ${index + 1} at ${s.at}`}
              aria-pressed={index === at}
              data-grip
              className="absolute top-0 h-4 w-3 -translate-x-1/2 cursor-grab touch-none"
              style={{ left: `${s.at * 100}%` }}
              onKeyDown={(event) => onKeyDown(event, index)}
              {...dragStop(index)}
            >
              <svg viewBox="0 0 12 16" aria-hidden="true">
                <path
                  d="M6 0 11 6V15H1V6z"
                  fill={s.color}
                  stroke={index === at ? "var(--accent)" : "var(--faint)"}
                  strokeWidth={index === at ? 2 : 1}
                />
              </svg>
            </button>
          ))}
        </div>
      </div>
      <div className="flex items-center gap-1.5">
        <ColorField
          className="w-12"
          label={`Colour of stop ${at + 1}`}
          value={stop.color}
          onChange={(color, dragging) => setStop(at, { color }, dragging)}
          onDragEnd={onDragEnd}
        />
        <NumberField
          className="w-16"
          label={`Place of stop ${at + 1}`}
          value={stop.at}
          soft={[0, 1]}
          min={0}
          max={1}
          onChange={(v, dragging) => setStop(at, { at: v }, dragging)}
          onDragEnd={onDragEnd}
        />
        <IconButton label="Add a stop" className="ml-auto !h-6 !w-6" onClick={() => add(0.5)}>
          <Plus size={13} />
        </IconButton>
        <IconButton
          label="Remove the stop"
          className="!h-6 !w-6"
          disabled={value.stops.length < 2}
          onClick={remove}
        >
          <Minus size={13} />
        </IconButton>
      </div>
      <div className="flex items-center justify-between text-12">
        mixed in
        <Select
          label="Mixed in"
          className="w-24"
          value={value.space}
          choices={GRADIENT_SPACES.map((space) => ({
            value: space,
            label: { oklab: "Oklab", linear: "linear light", srgb: "sRGB" }[space],
          }))}
          onChange={(space) => onChange({ ...value, space: space as GradientSpace }, false)}
        />
      </div>
      <Palettes onPick={(colors) => onChange({ ...value, stops: evenStops(colors) }, false)} />
    </div>
  );
}

function Palettes({ onPick }: { readonly onPick: (colors: readonly string[]) => void }) {
  return (
    <fieldset className="flex gap-1" aria-label="Palettes">
      {PALETTES.map(({ name, colors }) => (
        <button
          key={name}
          type="button"
          aria-label={`Colours of ${name}`}
          title={name}
          className="h-4 flex-1 rounded-sm border border-rule hover:border-ink"
          style={{ background: `linear-gradient(90deg, ${colors.join(", ")})` }}
          onClick={() => onPick(colors)}
        />
      ))}
    </fieldset>
  );
}
