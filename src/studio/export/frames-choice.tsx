"use client";
import { Button } from "@/ui/button";
import { NumberField } from "@/ui/number-field";
import { Switch } from "@/ui/switch";
import { type FrameRange, framesOf } from "./frame-range";

interface FramesChoiceProps {
  /** Null for the present frame alone. */
  readonly range: FrameRange | null;
  readonly whole: FrameRange;
  /** There is no single frame to choose, as of a film. */
  readonly always?: boolean;
  readonly onChange: (range: FrameRange | null) => void;
}

/** The present frame, or a range of them as one .zip. */
export function FramesChoice({ range, whole, always, onChange }: FramesChoiceProps) {
  const field = (label: string, key: keyof FrameRange, min?: number, max?: number) =>
    range && (
      <NumberField
        className="w-16"
        label={label}
        value={range[key]}
        soft={[whole.first, whole.last]}
        min={min}
        max={max}
        whole
        onChange={(to) => onChange({ ...range, [key]: to })}
        onDragEnd={() => undefined}
      />
    );
  return (
    <div className="mt-3 text-12">
      {!always && (
        <div className="flex min-h-7 items-center">
          <span className="flex-1">Many frames, as one .zip</span>
          <Switch
            label="Many frames"
            value={range !== null}
            onChange={(many) => onChange(many ? whole : null)}
          />
        </div>
      )}
      {range && (
        <div className="flex min-h-7 items-center gap-2">
          {field("From frame", "first", undefined, range.last)} – {field("To frame", "last", range.first)}
          <span className="ml-1 text-faint">every</span> {field("Every so many frames", "step", 1)}
          <span className="tabular flex-1 text-right text-11 text-faint">
            {framesOf(range).length} {always ? "frames" : "files"}
          </span>
        </div>
      )}
    </div>
  );
}

export interface Progress {
  readonly done: number;
  readonly total: number;
  /** Milliseconds; null before the first is done. */
  readonly left: number | null;
}

export function Progressing({ done, total, left, onStop }: Progress & { readonly onStop: () => void }) {
  return (
    <div className="mt-3 flex items-center gap-3 text-12">
      <progress
        className="h-1.5 flex-1 accent-(--accent)"
        value={done}
        max={total}
        aria-label="Frames written"
      />
      <span className="tabular text-faint">
        {done} of {total}
        {left !== null && `, ${leftText(left)}`}
      </span>
      <Button className="!h-6 text-12" onClick={onStop}>
        Stop
      </Button>
    </div>
  );
}

function leftText(milliseconds: number): string {
  const seconds = Math.ceil(milliseconds / 1000);
  return seconds < 90 ? `${seconds} s left` : `${Math.ceil(seconds / 60)} min left`;
}
