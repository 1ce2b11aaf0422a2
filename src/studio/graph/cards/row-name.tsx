"use client";
import type { PointerEvent } from "react";
import type { AnyInput } from "@/core/nodes/define";
import { portLabel } from "./value-control";

const NUMBERS: ReadonlySet<AnyInput["kind"]> = new Set(["number", "vector", "rotation"]);

interface RowNameProps {
  readonly name: string;
  readonly input: AnyInput;
  /** In place of the input's own name. */
  readonly words?: string;
}

/** The name of an input, on which its number is dragged as on the number itself; a click on it asks to type. */
export function RowName({ name, input, words = portLabel(name, input) }: RowNameProps) {
  if (!NUMBERS.has(input.kind)) return <span className="min-w-0 flex-1 truncate">{words}</span>;
  return (
    <span
      className="nodrag nopan min-w-0 flex-1 cursor-ew-resize select-none truncate"
      title={input.kind === "number" ? `Drag to change ${words}` : `Drag to change x of ${words}`}
      onPointerDown={takeHold}
    >
      {words}
    </span>
  );
}

/** The number's own field follows the pointer from here on. */
function takeHold({ nativeEvent: event, currentTarget }: PointerEvent<HTMLElement>): void {
  const field = currentTarget.closest("[data-input]")?.querySelector("[role=spinbutton]");
  if (!field || event.button !== 0) return;
  event.stopPropagation();
  field.dispatchEvent(new PointerEvent("pointerdown", event));
}
