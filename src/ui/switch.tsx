"use client";
import { Switch as Parts } from "radix-ui";

export function Switch({
  value,
  label,
  onChange,
}: {
  value: boolean;
  label: string;
  onChange: (value: boolean) => void;
}) {
  return (
    <Parts.Root
      checked={value}
      onCheckedChange={onChange}
      aria-label={label}
      className="nodrag nopan relative h-4 w-7 rounded-full border border-rule bg-ground data-[state=checked]:bg-good"
    >
      <Parts.Thumb className="block size-3 translate-x-0.5 rounded-full bg-faint data-[state=checked]:translate-x-3 data-[state=checked]:bg-ground" />
    </Parts.Root>
  );
}
