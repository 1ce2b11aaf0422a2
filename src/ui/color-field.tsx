"use client";
import clsx from "clsx";
import { Popover } from "radix-ui";
import { HexAlphaColorPicker, HexColorInput } from "react-colorful";
import { PALETTES } from "@/core/maths/palettes";

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

/** `#rrggbbff` is written `#rrggbb`. */
const shortAlpha = (color: string): string => (/^#[0-9a-f]{6}ff$/i.test(color) ? color.slice(0, 7) : color);
