"use client";
import clsx from "clsx";
import { type KeyboardEvent, type PointerEvent, useMemo, useRef, useState } from "react";
import { definitionOf } from "@/core/capsules/definitions";
import type { PieceDocument } from "@/core/document/schema";
import { valueAt } from "@/core/keys/track";
import type { AnyInput } from "@/core/nodes/define";
import { SEED } from "../graph/cards/key-mark";
import { useStudioStore } from "../state/store";
import { curveCount, handleSpots, partsOf, type Spot, withHandle, withKeyAt } from "./curve-edits";
import { type Scale, TIMELINE_GRID } from "./scale";
import { type ChosenKeys, keyWords, type TrackRow } from "./track-edits";

interface CurvesProps {
  readonly document: PieceDocument;
  readonly rows: readonly TrackRow[];
  readonly chosen: ChosenKeys;
  readonly scale: Scale;
}

/** A part of a row as a curve. */
interface Curve {
  readonly row: TrackRow;
  readonly input: AnyInput;
  readonly part: number;
  readonly title: string;
}

/** What is dragged: a key, or a handle after it. */
interface Grip {
  readonly curve: Curve;
  readonly key: number;
  readonly handle: 0 | 1 | null;
}

/** Values looked at along a curve. */
const SAMPLES = 240;
/** The same three tints that say x, y and z nowhere else: the label of each curve says which it is. */
const TINTS = ["var(--note)", "var(--good)", "var(--lilac)"];
const PART_NAMES = ["x", "y", "z", "w"];
/** A step of a grip by an arrow key, of the height of the picture. */
const NUDGE = 1 / 50;

/** Values over time as curves, those of the rows in which keys are chosen, else all; keys and their handles are dragged. */
export function Curves({ document, rows, chosen, scale }: CurvesProps) {
  const store = useStudioStore();
  const box = useRef<HTMLDivElement>(null);
  const [grip, setGrip] = useState<Grip | null>(null);
  /** The range stays while something is dragged. */
  const [held, setHeld] = useState<readonly [number, number] | null>(null);
  const curves = useMemo(() => curvesOf(document, rows, chosen), [document, rows, chosen]);
  const whole = useMemo(() => rangeOf(curves, scale.first, scale.last), [curves, scale.first, scale.last]);
  const [low, high] = held ?? whole;
  const top = (value: number) => `${((high - value) / (high - low)) * 100}%`;
  const change = ({ curve, key, handle }: Grip, to: Spot, group?: string) => {
    const { track, node, input } = curve.row;
    const next =
      handle === null
        ? withKeyAt(track, key, curve.part, to, curve.input)
        : withHandle(track, key, handle, curve.part, to);
    if (next !== track) store.getState().edit({ kind: "set-track", node, input, track: next }, group);
  };
  const spotAt = (event: PointerEvent, isKey: boolean): Spot => {
    const rect = box.current?.getBoundingClientRect();
    const share = rect ? (event.clientY - rect.top) / rect.height : 0;
    const frame = scale.at(event.clientX);
    return [isKey && !event.altKey ? Math.round(frame) : frame, high - share * (high - low)];
  };
  const begin = (event: PointerEvent<HTMLElement>, of: Grip) => {
    event.preventDefault();
    event.currentTarget.focus();
    box.current?.setPointerCapture(event.pointerId);
    setGrip(of);
    setHeld(whole);
  };
  const onMove = (event: PointerEvent) => {
    if (!grip) return;
    // The row as it is now; what is dragged keeps its place in it.
    const curve = curves.find((c) => c.row.address === grip.curve.row.address && c.part === grip.curve.part);
    if (curve) change({ ...grip, curve }, spotAt(event, grip.handle === null), "drag curve");
  };
  const onUp = () => {
    if (grip) store.getState().endGroup();
    setGrip(null);
    setHeld(null);
  };
  const onKeyDown = (event: KeyboardEvent, of: Grip, [frame, value]: Spot) => {
    const move = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (!move) return;
    event.preventDefault();
    event.stopPropagation();
    change(of, [frame + move[0], value + move[1] * NUDGE * (high - low)]);
  };
  /** Handles are shown on both sides of chosen keys; of all while none is chosen. */
  const isOpen = ({ row }: Curve, i: number): boolean => {
    const frames = chosen.get(row.address) ?? [];
    const { keys } = row.track;
    return chosen.size === 0 || frames.includes(keys[i].frame) || frames.includes(keys[i + 1]?.frame);
  };
  const across = (frame: number) => ((frame - scale.first) / Math.max(1, scale.last - scale.first)) * 100;
  if (curves.length === 0)
    return (
      <p className="border-t border-rule/60 px-3 py-2 text-12 text-faint">
        Only numbers and vectors have curves. Choose a key of one above.
      </p>
    );
  return (
    <section aria-label="Curves" className={`${TIMELINE_GRID} border-t border-rule/60`}>
      <ul className="self-start py-2 text-11">
        {curves.map((curve, c) => (
          <li key={`${curve.row.address}.${curve.part}`} className="flex items-center gap-1.5 truncate">
            <span className="h-0.5 w-3" style={{ background: TINTS[c % TINTS.length] }} />
            {curve.title}
          </li>
        ))}
      </ul>
      <div
        ref={box}
        className="relative my-2 h-[140px] touch-none overflow-hidden rounded-6 border border-rule bg-ground"
        onPointerMove={onMove}
        onPointerUp={onUp}
      >
        <svg
          viewBox="0 0 100 100"
          preserveAspectRatio="none"
          className="absolute inset-0 h-full w-full"
          aria-hidden="true"
        >
          {low < 0 && high > 0 && (
            <path
              d={`M0 ${percent(0, low, high)}H100`}
              stroke="var(--rule)"
              vectorEffect="non-scaling-stroke"
            />
          )}
          {curves.map((curve, c) => (
            <polyline
              key={`${curve.row.address}.${curve.part}`}
              points={pointsOf(curve, scale, low, high)}
              fill="none"
              stroke={TINTS[c % TINTS.length]}
              strokeWidth={1.5}
              vectorEffect="non-scaling-stroke"
            />
          ))}
          {curves.flatMap((curve) =>
            curve.row.track.keys.flatMap((_, i) =>
              (isOpen(curve, i) ? stalksOf(curve, i) : []).map(([from, to]) => (
                <path
                  key={`${curve.row.address}.${curve.part}.${from[0]}.${to[0]}`}
                  d={`M${across(from[0])} ${percent(from[1], low, high)}L${across(to[0])} ${percent(to[1], low, high)}`}
                  stroke="var(--accent)"
                  strokeDasharray="2 2"
                  vectorEffect="non-scaling-stroke"
                />
              )),
            ),
          )}
        </svg>
        {curves.flatMap((curve) =>
          curve.row.track.keys.map((_, i) => (
            <Grips
              // biome-ignore lint/suspicious/noArrayIndexKey: a key that is moved stays the one that has the focus
              key={`${curve.row.address}.${curve.part}.${i}`}
              curve={curve}
              at={i}
              place={scale.place}
              top={top}
              open={isOpen(curve, i)}
              onBegin={begin}
              onKeyDown={onKeyDown}
            />
          )),
        )}
      </div>
      <div className="tabular flex h-[140px] flex-col justify-between py-1 text-11 text-faint">
        <span>{keyWords(high)}</span>
        <span>
          Drag keys and handles; Alt leaves whole frames. Heights of handles need keys of different values.
        </span>
        <span>{keyWords(low)}</span>
      </div>
    </section>
  );
}

interface GripsProps {
  readonly curve: Curve;
  /** Number of the key. */
  readonly at: number;
  /** Whether its handles are shown. */
  readonly open: boolean;
  readonly place: (frame: number) => string;
  readonly top: (value: number) => string;
  readonly onBegin: (event: PointerEvent<HTMLElement>, grip: Grip) => void;
  readonly onKeyDown: (event: KeyboardEvent, grip: Grip, spot: Spot) => void;
}

/** A key on a curve, and the two handles that lead from it to the next. */
function Grips({ curve, at, open, place, top, onBegin, onKeyDown }: GripsProps) {
  const { keys } = curve.row.track;
  const spot: Spot = [keys[at].frame, partsOf(keys[at].value)[curve.part]];
  const handles = open ? handleSpots(curve.row.track, at, curve.part) : null;
  const grip = (handle: 0 | 1 | null, [frame, value]: Spot, label: string) => (
    <button
      type="button"
      aria-label={`${label}: ${keyWords(value)} at ${keyWords(frame)}`}
      data-grip
      className={clsx(
        "absolute -translate-x-1/2 -translate-y-1/2 cursor-move border focus-visible:z-20",
        handle === null
          ? "z-10 border-transparent text-ink hover:text-accent"
          : "h-2 w-2 rounded-full border-accent bg-ground hover:bg-accent",
      )}
      style={{ left: place(frame), top: top(value) }}
      onPointerDown={(event) => onBegin(event, { curve, key: at, handle })}
      onKeyDown={(event) => onKeyDown(event, { curve, key: at, handle }, [frame, value])}
    >
      {handle === null && (
        <svg viewBox="0 0 12 12" width={13} height={13} aria-hidden="true">
          <path d={SEED} fill="currentColor" stroke="var(--ground)" />
        </svg>
      )}
    </button>
  );
  return (
    <>
      {handles && (
        <>
          {grip(0, handles[0], `Handle after key ${at + 1} of ${curve.title}`)}
          {grip(1, handles[1], `Handle before key ${at + 2} of ${curve.title}`)}
        </>
      )}
      {grip(null, spot, `Key ${at + 1} of ${curve.title}`)}
    </>
  );
}

/** From the keys to the handles between a key and the next. */
function stalksOf({ row, part }: Curve, i: number): (readonly [Spot, Spot])[] {
  const handles = handleSpots(row.track, i, part);
  if (!handles) return [];
  const spot = (k: number): Spot => [row.track.keys[k].frame, partsOf(row.track.keys[k].value)[part]];
  return [
    [spot(i), handles[0]],
    [spot(i + 1), handles[1]],
  ];
}

function curvesOf(document: PieceDocument, rows: readonly TrackRow[], chosen: ChosenKeys): Curve[] {
  const shown = rows.filter(({ address }) => chosen.get(address)?.length);
  return (shown.length > 0 ? shown : rows).flatMap((row) => {
    const type = document.graph.nodes.find(({ id }) => id === row.node)?.type ?? "";
    const input: AnyInput | undefined = definitionOf(document, type)?.inputs[row.input];
    if (!input || !["number", "vector", "rotation"].includes(input.kind)) return [];
    const count = curveCount(row.track);
    return Array.from({ length: count }, (_, part) => ({
      row,
      input,
      part,
      title: count > 1 ? `${row.title}, ${PART_NAMES[part]}` : row.title,
    }));
  });
}

const valueOfPart = ({ row, input, part }: Curve, frame: number): number =>
  partsOf(valueAt(row.track, input, frame))[part] ?? 0;

/** Least and greatest of what is seen, keys and handles included, with room around them. */
function rangeOf(curves: readonly Curve[], first: number, last: number): readonly [number, number] {
  const values = curves.flatMap((curve) => [
    ...Array.from({ length: SAMPLES + 1 }, (_, i) =>
      valueOfPart(curve, first + (i / SAMPLES) * (last - first)),
    ),
    ...curve.row.track.keys.flatMap((_, i) =>
      (handleSpots(curve.row.track, i, curve.part) ?? []).map(([, v]) => v),
    ),
  ]);
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const room = high > low ? (high - low) * 0.12 : Math.max(0.5, Math.abs(high) * 0.5);
  return [low - room, high + room];
}

const percent = (value: number, low: number, high: number): number => ((high - value) / (high - low)) * 100;

function pointsOf(curve: Curve, { first, last }: Scale, low: number, high: number): string {
  return Array.from({ length: SAMPLES + 1 }, (_, i) => {
    const value = valueOfPart(curve, first + (i / SAMPLES) * (last - first));
    return `${((i / SAMPLES) * 100).toFixed(3)},${percent(value, low, high).toFixed(3)}`;
  }).join(" ");
}
