"use client";
import { NumberField } from "@/ui/number-field";
import { Switch } from "@/ui/switch";
import { type FrameRange, framesOf } from "./frame-range";

/** Whether the browser lets pages write into folders. */
const hasFolders = (): boolean => typeof window !== "undefined" && "showDirectoryPicker" in window;

interface FramesChoiceProps {
  /** Null for the present frame alone. */
  readonly range: FrameRange | null;
  readonly whole: FrameRange;
  /** There is no single frame to choose, as of a film. */
  readonly always?: boolean;
  readonly inFolder: boolean;
  readonly onChange: (range: FrameRange | null) => void;
  readonly onFolder: (inFolder: boolean) => void;
}

/** The present frame, or a range of them, as one .zip or in a folder. */
export function FramesChoice({ range, whole, always, inFolder, onChange, onFolder }: FramesChoiceProps) {
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
          <span className="flex-1">Many frames, {inFolder ? "in a folder" : "as one .zip"}</span>
          <Switch
            label="Many frames"
            value={range !== null}
            onChange={(many) => onChange(many ? whole : null)}
          />
        </div>
      )}
      {!always && range && hasFolders() && (
        <div className="flex min-h-7 items-center">
          <span className="flex-1">Each file into a folder that you choose</span>
          <Switch label="Into a folder" value={inFolder} onChange={onFolder} />
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
