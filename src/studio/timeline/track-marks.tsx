"use client";
import clsx from "clsx";
import { memo, type PointerEvent, useMemo } from "react";
import type { Track } from "@/core/document/schema";
import { valueAt } from "@/core/keys/track";
import type { AnyInput } from "@/core/nodes/define";
import type { Setting } from "@/core/nodes/ports";
import { SEED } from "../graph/cards/key-mark";
import type { Scale } from "./scale";
import { keyWords, type TrackRow } from "./track-edits";

interface TrackMarksProps {
  readonly row: TrackRow;
  readonly input: AnyInput | undefined;
  readonly scale: Scale;
  readonly chosen: readonly number[];
  readonly onPointerDown: (event: PointerEvent<HTMLElement>, frame: number) => void;
  readonly onFocus: (frame: number) => void;
  readonly onOpen: (frame: number) => void;
}

/** The keys of one input on its row, over a small picture of its value. */
export function TrackMarks({ row, input, scale, chosen, onPointerDown, onFocus, onOpen }: TrackMarksProps) {
  const { first, last } = scale;
  return (
    <>
      {input && <ValuePicture track={row.track} input={input} first={first} last={last} />}
      {row.track.keys.map(({ frame, value, ease }, i) => {
        const isChosen = chosen.includes(frame);
        const words = `${row.title}, key at ${Number(frame.toFixed(3))}: ${keyWords(value)}`;
        return (
          <button
            // biome-ignore lint/suspicious/noArrayIndexKey: a key that is moved stays the one that has the focus
            key={i}
            type="button"
            aria-label={words}
            aria-pressed={isChosen}
            title={`${words}${ease ? `, ${typeof ease === "string" ? ease : "own curve"}` : ""}`}
            className={clsx(
              "absolute top-1/2 -translate-x-1/2 -translate-y-1/2 cursor-ew-resize",
              isChosen ? "z-10 text-accent" : "text-ink",
            )}
            style={{ left: scale.place(frame) }}
            onPointerDown={(event) => {
              event.currentTarget.focus();
              onPointerDown(event, frame);
            }}
            data-grip
            onFocus={() => onFocus(frame)}
            onDoubleClick={(event) => {
              event.stopPropagation();
              onOpen(frame);
            }}
            onKeyDown={(event) => {
              if (event.key !== "Enter") return;
              event.preventDefault();
              event.stopPropagation();
              onOpen(frame);
            }}
          >
            <svg viewBox="0 0 12 12" width={13} height={13} aria-hidden="true">
              <path
                d={SEED}
                fill={ease === "hold" ? "var(--panel)" : "currentColor"}
                stroke={isChosen ? "currentColor" : "var(--panel)"}
                strokeWidth={ease === "hold" ? 1.6 : 1}
              />
            </svg>
          </button>
        );
      })}
    </>
  );
}

interface PictureProps {
  readonly track: Track;
  readonly input: AnyInput;
  readonly first: number;
  readonly last: number;
}

/** Places at which the value is looked at. */
const SAMPLES = 120;

/** Numbers as lines over time, colours as a band. */
const ValuePicture = memo(function ValuePicture({ track, input, first, last }: PictureProps) {
  const values = useMemo(
    () =>
      Array.from({ length: SAMPLES + 1 }, (_, i) =>
        valueAt(track, input, first + (i / SAMPLES) * (last - first)),
      ),
    [track, input, first, last],
  );
  if (input.kind === "color") {
    const stops = values.map((value, i) => `${String(value)} ${((i / SAMPLES) * 100).toFixed(2)}%`);
    return (
      <span
        className="absolute inset-x-0 inset-y-1.5 opacity-80"
        style={{ background: `linear-gradient(to right, ${stops.join(", ")})` }}
      />
    );
  }
  const lanes = lanesOf(values);
  if (lanes.length === 0) return null;
  const all = lanes.flat();
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const y = (v: number) => (high > low ? 18 - ((v - low) / (high - low)) * 16 : 10);
  return (
    <svg
      viewBox={`0 0 ${SAMPLES} 20`}
      preserveAspectRatio="none"
      className="absolute inset-0 h-full w-full"
      aria-hidden="true"
    >
      {lanes.map((lane, k) => (
        <polyline
          // biome-ignore lint/suspicious/noArrayIndexKey: x, y and z
          key={k}
          points={lane.map((v, i) => `${i},${y(v).toFixed(2)}`).join(" ")}
          fill="none"
          stroke="var(--note)"
          strokeOpacity={0.6}
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </svg>
  );
});

/** One list of numbers a part; none for what is no number. */
function lanesOf(values: readonly Setting[]): number[][] {
  if (values.every((value) => typeof value === "number")) return [values as number[]];
  if (values.every((value) => Array.isArray(value)))
    return [0, 1, 2].map((k) => values.map((value) => (value as number[])[k]));
  return [];
}
