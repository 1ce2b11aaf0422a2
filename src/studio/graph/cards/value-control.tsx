"use client";
import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import type { Edit } from "@/core/document/edits";
import type { DrawnPath } from "@/core/maths/drawn-path";
import type { Gradient } from "@/core/maths/gradient";
import type { PaintedMask } from "@/core/maths/painted-mask";
import type { Profile } from "@/core/maths/profile";
import type { AnyInput } from "@/core/nodes/define";
import { portWords } from "@/core/nodes/port-words";
import type { Setting } from "@/core/nodes/ports";
import { ColorField } from "@/ui/color-field";
import { NumberField } from "@/ui/number-field";
import { Select } from "@/ui/select";
import { Switch } from "@/ui/switch";
import { GradientEditor } from "../../dials/gradient-editor";
import { PathEditor } from "../../dials/path-editor";
import { ProfileEditor } from "../../dials/profile-editor";
import { AssetControl } from "../../export/asset-control";
import { gradientStyle } from "./gradient-style";
import { PathPicture } from "./path-picture";
import { ProfilePicture } from "./profile-picture";

export interface ValueControlProps {
  readonly input: AnyInput;
  readonly value: Setting;
  /** What it is for, to those who do not see it. */
  readonly label: string;
  /** Limits of the slider, when they are not the declared ones. */
  readonly limits?: readonly [number, number];
  /** The parts of a vector keep their proportions. */
  readonly locked?: boolean;
  /** `also` belongs to the same step. */
  readonly onSet: (to: Setting, dragging?: boolean, also?: Edit) => void;
  readonly onEnd: () => void;
}

/** Stands for the end of a line in a field of one line. */
const LINE_END = "↵";

/** The control for a value of any kind, wherever it is kept. */
export function ValueControl({ input, value, label, limits, locked, onSet, onEnd }: ValueControlProps) {
  const soft = limits ?? input.soft;
  switch (input.kind) {
    case "number":
      return (
        <NumberField
          className="w-[84px]"
          label={label}
          value={typeof value === "number" ? value : 0}
          soft={soft}
          min={input.min}
          max={input.max}
          whole={input.whole}
          unit={input.unit}
          onChange={onSet}
          onDragEnd={onEnd}
        />
      );
    case "vector":
    case "rotation": {
      const parts = Array.isArray(value) && value.length === 3 ? (value as number[]) : [0, 0, 0];
      return (
        <span className="flex gap-0.5">
          {["x", "y", "z"].map((axis, i) => (
            <NumberField
              key={axis}
              className="w-[38px] text-11"
              label={`${axis} of ${label}`}
              value={parts[i]}
              soft={soft}
              min={input.min}
              onChange={(v, dragging) => onSet(withPart(parts, i, v, locked === true), dragging)}
              onDragEnd={onEnd}
            />
          ))}
        </span>
      );
    }
    case "color":
      return (
        <ColorField
          className="w-[84px]"
          label={label}
          value={String(value)}
          onChange={onSet}
          onDragEnd={onEnd}
        />
      );
    case "toggle":
      return <Switch label={label} value={value === true} onChange={(to) => onSet(to)} />;
    case "choice":
      return (
        <Select
          className="w-[104px]"
          label={label}
          value={String(value)}
          choices={(input.choices ?? []).map((choice) => ({ value: choice, label: choice }))}
          onChange={(to) => onSet(to)}
        />
      );
    case "text": {
      // A field of one line would drop the ends of lines.
      const shown = input.lines ? String(value).replaceAll("\n", LINE_END) : String(value);
      return (
        <input
          aria-label={label}
          className="nodrag nopan h-5 w-[104px] rounded border border-rule bg-ground px-1.5 text-11"
          defaultValue={shown}
          key={shown}
          onBlur={({ currentTarget: { value: to } }) =>
            to !== shown && onSet(input.lines ? to.replaceAll(LINE_END, "\n") : to)
          }
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === "Enter") event.currentTarget.blur();
          }}
        />
      );
    }
    case "gradient":
      return (
        <Opening
          label={label}
          style={gradientStyle(value as unknown as Gradient)}
          editor={
            <GradientEditor
              value={value as unknown as Gradient}
              bins={undefined}
              onChange={(to, dragging) => onSet(to as unknown as Setting, dragging)}
              onDragEnd={onEnd}
            />
          }
        />
      );
    case "profile":
      return (
        <Opening
          label={label}
          picture={<ProfilePicture profile={value as unknown as Profile} className="h-full w-full" />}
          editor={
            <ProfileEditor
              value={value as unknown as Profile}
              bins={undefined}
              onChange={(to, dragging) => onSet(to as unknown as Setting, dragging)}
              onDragEnd={onEnd}
            />
          }
        />
      );
    case "painted":
      return (
        <span className="tabular text-11 text-faint">
          {(value as unknown as PaintedMask).dabs.length} touches
        </span>
      );
    case "path":
      return (
        <Opening
          label={label}
          picture={<PathPicture path={value as unknown as DrawnPath} className="h-full w-full" />}
          editor={
            <PathEditor
              value={value as unknown as DrawnPath}
              onChange={(to, dragging) => onSet(to as unknown as Setting, dragging)}
              onDragEnd={onEnd}
            />
          }
        />
      );
    case "asset":
      return (
        <AssetControl
          label={label}
          holds={input.holds}
          value={typeof value === "string" ? value : null}
          onChange={(name, keeping) => onSet(name, false, keeping)}
        />
      );
    case "shape":
      return null;
  }
}

/** Shown name of a port. */
export const portLabel = (name: string, port: { readonly label?: string }): string =>
  port.label ?? portWords(name);

/** Locked parts keep their proportions to the one that is changed; where it is 0, all become the same. */
function withPart(parts: readonly number[], at: number, to: number, locked: boolean): number[] {
  if (!locked) return parts.map((p, k) => (k === at ? to : p));
  const from = parts[at];
  return parts.map((p, k) => (k === at || from === 0 ? to : Number(((p * to) / from).toPrecision(7))));
}

interface OpeningProps {
  readonly label: string;
  readonly style?: React.CSSProperties;
  readonly picture?: ReactNode;
  readonly editor: ReactNode;
}

/** A small picture of a long value; its editor opens beside it. */
function Opening({ label, style, picture, editor }: OpeningProps) {
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={`${label}: edit`}
        className="nodrag nopan h-5 w-[104px] rounded border border-rule bg-ground"
        style={style}
      >
        {picture}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          role="dialog"
          aria-label={label}
          sideOffset={4}
          collisionPadding={8}
          className="z-50 w-[260px] rounded-6 border border-rule bg-panel p-3 shadow-2xl"
        >
          {editor}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
