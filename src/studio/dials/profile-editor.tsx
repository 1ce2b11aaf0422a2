"use client";
import { Minus, Plus } from "lucide-react";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import { clip } from "@/core/maths/clip";
import {
  PROFILE_FORMS,
  type Profile,
  type ProfileForm,
  type ProfilePoint,
  profileAt,
} from "@/core/maths/profile";
import { IconButton } from "@/ui/button";
import { NumberField } from "@/ui/number-field";
import { Select } from "@/ui/select";
import { Histogram } from "../graph/cards/histogram";
import { PROFILE_RANGE, ProfilePicture, profileY } from "../graph/cards/profile-picture";

interface ProfileEditorProps {
  readonly value: Profile;
  /** Counts of what arrives between the low and the high end, drawn behind the curve. */
  readonly bins?: readonly number[];
  readonly onChange: (value: Profile, dragging: boolean) => void;
  readonly onDragEnd: () => void;
}

const rounded = (value: number): number => Math.round(value * 1000) / 1000;

/** Points on a curve: drag, add by a click, arrow keys, Delete. */
export function ProfileEditor({ value, bins, onChange, onDragEnd }: ProfileEditorProps) {
  const [chosen, setChosen] = useState(0);
  const box = useRef<HTMLDivElement>(null);
  const at = Math.min(chosen, value.points.length - 1);
  const point = value.points[at];

  const setPoint = (index: number, change: Partial<ProfilePoint>, dragging = false) =>
    onChange(
      { ...value, points: value.points.map((p, i) => (i === index ? { ...p, ...change } : p)) },
      dragging,
    );
  const placeOf = (event: { clientX: number; clientY: number }): ProfilePoint => {
    const bounds = box.current?.getBoundingClientRect();
    if (!bounds) return { at: 0, value: 0 };
    const { low, high } = PROFILE_RANGE;
    const down = clip((event.clientY - bounds.top) / bounds.height, 0, 1);
    return {
      at: rounded(clip((event.clientX - bounds.left) / bounds.width, 0, 1)),
      value: rounded(high - down * (high - low)),
    };
  };
  const add = (added: ProfilePoint) => {
    onChange({ ...value, points: [...value.points, added] }, false);
    setChosen(value.points.length);
  };
  const remove = () => {
    if (value.points.length < 2) return;
    onChange({ ...value, points: value.points.filter((_, i) => i !== at) }, false);
    setChosen(Math.max(0, at - 1));
  };
  const onKeyDown = (event: KeyboardEvent, index: number) => {
    const step = event.shiftKey ? 0.001 : 0.01;
    const { at: x, value: y } = value.points[index];
    const moves: Record<string, Partial<ProfilePoint>> = {
      ArrowRight: { at: rounded(clip(x + step, 0, 1)) },
      ArrowLeft: { at: rounded(clip(x - step, 0, 1)) },
      ArrowUp: { value: rounded(y + step) },
      ArrowDown: { value: rounded(y - step) },
    };
    if (moves[event.key]) setPoint(index, moves[event.key]);
    else if (event.key === "Delete" || event.key === "Backspace") remove();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const drag = (index: number) => ({
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      setChosen(index);
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      if (event.currentTarget.hasPointerCapture(event.pointerId)) setPoint(index, placeOf(event), true);
    },
    onPointerUp: onDragEnd,
  });
  const middle = () => ({ at: 0.5, value: rounded(profileAt(value, 0.5)) });
  return (
    <div className="grid gap-2">
      <div ref={box} className="relative mx-1 h-32 rounded border border-rule bg-ground">
        {bins && <Histogram bins={bins} className="absolute inset-x-0 bottom-0 h-full w-full opacity-50" />}
        {[0, 1].map((line) => (
          <div
            key={line}
            className="absolute inset-x-0 border-t border-rule border-dashed"
            style={{ top: `${profileY(line)}%` }}
          />
        ))}
        {/* biome-ignore lint/a11y/noStaticElementInteractions lint/a11y/useKeyWithClickEvents: the button below adds a point by keyboard */}
        <div className="absolute inset-0 cursor-copy" onClick={(event) => add(placeOf(event))}>
          <ProfilePicture profile={value} className="size-full" />
        </div>
        {value.points.map((p, index) => (
          <button
            // biome-ignore lint/suspicious/noArrayIndexKey: a point's identity is its place in the list
            key={index}
            type="button"
            aria-label={`Point ${index + 1} at ${p.at}, ${p.value}`}
            aria-pressed={index === at}
            data-grip
            className="absolute size-4 -translate-x-1/2 -translate-y-1/2 cursor-grab touch-none"
            style={{ left: `${p.at * 100}%`, top: `${clip(profileY(p.value), 0, 100)}%` }}
            onKeyDown={(event) => onKeyDown(event, index)}
            {...drag(index)}
          >
            <svg viewBox="0 0 16 16" aria-hidden="true">
              <path
                d="M8 3 13 8 8 13 3 8z"
                fill="var(--panel)"
                stroke={index === at ? "var(--accent)" : "var(--faint)"}
                strokeWidth={index === at ? 2 : 1.4}
              />
            </svg>
          </button>
        ))}
      </div>
      <div className="flex items-center gap-1.5">
        <NumberField
          className="w-16"
          label={`Place of point ${at + 1}`}
          value={point.at}
          soft={[0, 1]}
          min={0}
          max={1}
          onChange={(v, dragging) => setPoint(at, { at: v }, dragging)}
          onDragEnd={onDragEnd}
        />
        <NumberField
          className="w-16"
          label={`Value of point ${at + 1}`}
          value={point.value}
          soft={[0, 1]}
          onChange={(v, dragging) => setPoint(at, { value: v }, dragging)}
          onDragEnd={onDragEnd}
        />
        <IconButton label="Add a point" className="ml-auto !h-6 !w-6" onClick={() => add(middle())}>
          <Plus size={13} />
        </IconButton>
        <IconButton
          label="Remove the point"
          className="!h-6 !w-6"
          disabled={value.points.length < 2}
          onClick={remove}
        >
          <Minus size={13} />
        </IconButton>
      </div>
      <div className="flex items-center justify-between text-12">
        between points
        <Select
          label="Between points"
          className="w-24"
          value={value.form}
          choices={PROFILE_FORMS.map((form) => ({ value: form, label: form }))}
          onChange={(form) => onChange({ ...value, form: form as ProfileForm }, false)}
        />
      </div>
    </div>
  );
}
