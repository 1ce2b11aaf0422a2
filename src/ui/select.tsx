"use client";
import clsx from "clsx";
import { Check, ChevronDown } from "lucide-react";
import { Select as Parts } from "radix-ui";

export interface SelectProps {
  readonly value: string;
  readonly label: string;
  readonly choices: readonly { readonly value: string; readonly label: string }[];
  readonly className?: string;
  readonly onChange: (value: string) => void;
}

export function Select({ value, label, choices, className, onChange }: SelectProps) {
  return (
    <Parts.Root value={value} onValueChange={onChange}>
      <Parts.Trigger
        aria-label={label}
        className={clsx(
          "nodrag nopan inline-flex h-5 min-w-0 items-center justify-between gap-1 rounded border border-rule bg-ground px-1.5 text-11 hover:border-faint",
          className,
        )}
      >
        <span className="truncate">
          <Parts.Value placeholder={value} />
        </span>
        <ChevronDown size={10} className="shrink-0 text-faint" />
      </Parts.Trigger>
      <Parts.Portal>
        <Parts.Content
          position="popper"
          sideOffset={2}
          className="z-50 max-h-80 overflow-hidden rounded-6 border border-rule bg-raised shadow-xl"
        >
          <Parts.Viewport className="p-1">
            {choices.map((choice) => (
              <Parts.Item
                key={choice.value}
                value={choice.value}
                className="flex h-6 cursor-default items-center gap-2 rounded px-2 text-12 outline-none data-[highlighted]:bg-rule"
              >
                <span className="w-3">
                  <Parts.ItemIndicator>
                    <Check size={12} className="text-accent" />
                  </Parts.ItemIndicator>
                </span>
                <Parts.ItemText>{choice.label}</Parts.ItemText>
              </Parts.Item>
            ))}
          </Parts.Viewport>
        </Parts.Content>
      </Parts.Portal>
    </Parts.Root>
  );
}
