"use client";
import clsx from "clsx";
import { Popover } from "radix-ui";
import { useState } from "react";
import { HexAlphaColorPicker, HexColorInput } from "react-colorful";
import { parseHex } from "@/core/maths/color";
import { contrastOf, HARMONY, harmonyOf, hexOfOklch, type Oklch, oklchOf } from "@/core/maths/oklch";
import { PALETTES } from "@/core/maths/palettes";
import { NumberField } from "./number-field";

export interface ColorFieldProps {
  readonly value: string;
  readonly label: string;
  readonly className?: string;
  readonly onChange: (value: string, dragging: boolean) => void;
  readonly onDragEnd?: () => void;
}

export function ColorField({ value, label, className, onChange, onDragEnd }: ColorFieldProps) {
  return (
    <Popover.Root onOpenChange={(open) => !open && onDragEnd?.()}>
      <Popover.Trigger
        aria-label={`${label}: ${value}`}
        className={clsx("nodrag nopan h-5 min-w-0 rounded border border-rule hover:border-faint", className)}
        style={{ background: value }}
      />
      <Popover.Portal>
        <Popover.Content
          sideOffset={4}
          className="z-50 grid gap-2 rounded-6 border border-rule bg-raised p-2 shadow-xl"
        >
          <HexAlphaColorPicker color={value} onChange={(color) => onChange(shortAlpha(color), true)} />
          <HexColorInput
            aria-label={`${label} in hexadecimal`}
            className="tabular h-6 rounded border border-rule bg-ground px-2 text-12"
            color={value}
            prefixed
            alpha
            onChange={(color) => onChange(shortAlpha(color), false)}
          />
          <Tuning value={value} label={label} onChange={onChange} onDragEnd={onDragEnd} />
          <div className="grid w-[200px] grid-cols-10 gap-1">
            {PALETTES.flatMap(({ name, colors }) =>
              colors.map((color, i) => (
                <button
                  key={`${name} ${color}`}
                  type="button"
                  aria-label={`${name} ${i + 1}`}
                  title={`${name}: ${color}`}
                  className="h-4 rounded-sm border border-transparent hover:border-ink"
                  style={{ background: color }}
                  onClick={() => onChange(color, false)}
                />
              )),
            )}
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

const OKLCH = {
  lightness: { soft: [0, 1], most: 1, digits: 1000, unit: "" },
  chroma: { soft: [0, 0.32], most: 0.5, digits: 1000, unit: "" },
  hue: { soft: [0, 360], most: 360, digits: 10, unit: "°" },
} as const;

/** As light, as strong and of which hue it is to the eye, what goes with it, and how well it is read on black and on white. */
function Tuning({ value, label, onChange, onDragEnd }: Omit<ColorFieldProps, "className">) {
  const own = oklchOf(value);
  // A grey has no hue of its own: the one that was set last stays.
  const [hue, setHue] = useState(own.hue);
  const shown = own.chroma > GREY ? own : { ...own, hue };
  const alpha = parseHex(value)?.[3];
  return (
    <div className="grid w-[200px] gap-1.5 text-11 text-faint">
      {(Object.keys(OKLCH) as (keyof Oklch)[]).map((part) => {
        const { soft, most, digits, unit } = OKLCH[part];
        return (
          <div key={part} className="flex items-center justify-between gap-2">
            {part}
            <NumberField
              className="w-[110px]"
              label={`${label}, ${part}`}
              value={Math.round(shown[part] * digits) / digits}
              soft={soft}
              min={0}
              max={most}
              unit={unit}
              onChange={(to, dragging) => {
                if (part === "hue") setHue(to);
                onChange(hexOfOklch({ ...shown, [part]: to }, alpha), dragging);
              }}
              onDragEnd={() => onDragEnd?.()}
            />
          </div>
        );
      })}
      <div className="flex items-center justify-between gap-2">
        goes with
        <span className="grid w-[110px] grid-cols-5 gap-1">
          {harmonyOf(value).map((color, i) => (
            <button
              key={HARMONY[i]}
              type="button"
              aria-label={`Turned by ${HARMONY[i]}°`}
              title={`${HARMONY[i]}°: ${color}`}
              className="h-4 rounded-sm border border-transparent hover:border-ink"
              style={{ background: color }}
              onClick={() => onChange(color, false)}
            />
          ))}
        </span>
      </div>
      <p className="tabular flex justify-between">
        contrast
        <span>
          {contrastOf(value, "#000000").toFixed(1)} on black · {contrastOf(value, "#ffffff").toFixed(1)} on
          white
        </span>
      </p>
    </div>
  );
}

/** Chroma under which no hue is seen. */
const GREY = 0.002;

/** `#rrggbbff` is written `#rrggbb`. */
const shortAlpha = (color: string): string => (/^#[0-9a-f]{6}ff$/i.test(color) ? color.slice(0, 7) : color);
