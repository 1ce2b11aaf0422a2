"use client";
import clsx from "clsx";
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import { evaluateArithmetic } from "@/core/formula/arithmetic";
import { clip } from "@/core/maths/clip";

export interface NumberFieldProps {
  readonly value: number;
  readonly label: string;
  readonly soft?: readonly [number, number];
  readonly min?: number;
  readonly max?: number;
  readonly whole?: boolean;
  readonly unit?: string;
  readonly className?: string;
  /** `dragging` is true between pointer down and up; the changes of one drag belong together. */
  readonly onChange: (value: number, dragging: boolean) => void;
  readonly onDragEnd?: () => void;
}

/** Pixels for the whole soft range when dragging. */
const DRAG_PIXELS = 160;

/**
 * A number that is dragged (Shift fine, Alt coarse), stepped with the arrow keys, or typed, with arithmetic.
 * The filled part shows where it lies in its soft range; typed values may pass the range.
 */
export function NumberField(props: NumberFieldProps) {
  const { value, label, soft, whole, unit, className, onChange, onDragEnd } = props;
  const [typing, setTyping] = useState<string | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const drag = useRef<{ x: number; value: number; moved: boolean } | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const span = soft ? soft[1] - soft[0] : Math.max(1, Math.abs(value) * 2);
  const fill = soft && span > 0 ? Math.min(1, Math.max(0, (value - soft[0]) / span)) : 0;

  const isTyping = typing !== null;
  useEffect(() => {
    if (isTyping) input.current?.select();
  }, [isTyping]);

  const limit = (v: number) => {
    const clipped = clip(v, props.min, props.max);
    return whole ? Math.round(clipped) : Number(clipped.toPrecision(7));
  };

  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    if (typing !== null || event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    drag.current = { x: event.clientX, value, moved: false };
  };
  const onPointerMove = (event: PointerEvent<HTMLElement>) => {
    const from = drag.current;
    if (!from) return;
    const pixels = event.clientX - from.x;
    if (!from.moved && Math.abs(pixels) < 3) return;
    from.moved = true;
    const speed = event.shiftKey ? 0.1 : event.altKey ? 5 : 1;
    from.value += (event.movementX / DRAG_PIXELS) * span * speed;
    onChange(snap(limit(from.value), span, event.shiftKey, whole), true);
  };
  const onPointerUp = () => {
    const from = drag.current;
    drag.current = null;
    if (from?.moved) onDragEnd?.();
    else if (from) setTyping(numberText(value));
  };
  const commit = (text: string) => {
    const result = evaluateArithmetic(text);
    if (!result.ok) {
      setFault(result.what);
      return;
    }
    const typed = whole ? Math.round(result.value) : result.value;
    const fits = clip(typed, props.min, props.max);
    setTyping(null);
    setFault(null);
    if (fits !== value) onChange(fits, false);
  };
  const cancel = () => {
    setTyping(null);
    setFault(null);
  };
  const onTypingKey = (event: KeyboardEvent<HTMLInputElement>) => {
    event.stopPropagation();
    if (event.key === "Enter") commit(event.currentTarget.value);
    else if (event.key === "Escape") cancel();
  };
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    const step = keyStep(span, whole === true, event);
    const direction = STEP_KEYS[event.key];
    if (direction !== undefined) onChange(limit(value + direction * step), false);
    else if (event.key === "Enter") setTyping(numberText(value));
    else if (/^[\d.,(-]$/.test(event.key)) setTyping(event.key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  const look = clsx(
    "nodrag nopan tabular relative h-5 min-w-0 overflow-hidden rounded border bg-ground text-right text-11",
    fault ? "border-alert" : "border-rule hover:border-faint",
    className,
  );
  if (typing !== null) {
    return (
      <input
        ref={input}
        aria-label={label}
        aria-invalid={fault !== null}
        title={fault ?? undefined}
        className={clsx(look, "px-1.5")}
        defaultValue={typing}
        // biome-ignore lint/a11y/noAutofocus: the field was asked to take text by a click or a key
        autoFocus
        onKeyDown={onTypingKey}
        onBlur={(event) => (fault ? cancel() : commit(event.currentTarget.value))}
      />
    );
  }
  return (
    <div
      role="spinbutton"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={value}
      aria-valuemin={props.min}
      aria-valuemax={props.max}
      title={`${label}: drag, or click to type`}
      className={clsx(look, "cursor-ew-resize select-none px-1.5 leading-[18px]")}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onKeyDown={onKeyDown}
    >
      {soft && <span className="absolute inset-y-0 left-0 bg-raised" style={{ width: `${fill * 100}%` }} />}
      <span className="relative">
        {numberText(value)}
        {unit === "°" || unit === "×" ? <span className="text-faint">{unit}</span> : null}
      </span>
    </div>
  );
}

/** At most five significant digits for reading. */
export function numberText(value: number): string {
  if (value === 0) return "0";
  const size = Math.abs(value);
  if (size >= 1e10 || size < 1e-4) return value.toExponential(2);
  return String(Number(value.toPrecision(size >= 1e4 ? 10 : 5)));
}

const STEP_KEYS: Readonly<Record<string, number>> = {
  ArrowUp: 1,
  ArrowRight: 1,
  ArrowDown: -1,
  ArrowLeft: -1,
};

/** One press of an arrow key: finer with Shift, coarser with Alt. */
function keyStep(span: number, whole: boolean, keys: { shiftKey: boolean; altKey: boolean }): number {
  if (whole) return keys.altKey ? 10 : 1;
  return niceStep(span) * (keys.shiftKey ? 0.1 : keys.altKey ? 10 : 1);
}

const niceStep = (span: number): number => 10 ** Math.floor(Math.log10(span / 50 || 1));

/** Dragged values come out round: hundredths of the range, finer with Shift. */
function snap(value: number, span: number, fine: boolean, whole: boolean | undefined): number {
  if (whole) return Math.round(value);
  const step = niceStep(span) / (fine ? 10 : 1);
  return Number((Math.round(value / step) * step).toPrecision(7));
}
