"use client";
import clsx from "clsx";
import { canBeKeyed, keyAt, withoutKeys, withValue } from "@/core/keys/track";
import type { AnyInput } from "@/core/nodes/define";
import { settingAt, unkeyedEdit } from "../../state/keyed-edits";
import { nodeOf, type StudioStore, useStudio, useStudioStore, useTime } from "../../state/store";
import { portLabel } from "./value-control";

/** A seed, drawn in a box of 12 × 12: full where a key lies. */
export const SEED = "M6 1.2c2.6 2.2 3.6 4 3.6 5.8a3.6 3.6 0 0 1-7.2 0C2.4 5.2 3.4 3.4 6 1.2z";

interface KeyMarkProps {
  readonly node: string;
  readonly name: string;
  readonly input: AnyInput;
  /** Shown before there are any keys. */
  readonly always?: boolean;
}

/** Whether an input has keys, and one at this frame; makes it and takes it away. */
export function KeyMark({ node, name, input, always = false }: KeyMarkProps) {
  const store = useStudioStore();
  const track = useStudio((s) => nodeOf(s, node)?.keys?.[name]);
  const keyed = track !== undefined;
  const here = useTime((t) => keyed && keyAt(track, t.frame) !== undefined);
  if (!canBeKeyed(input) || (!keyed && !always)) return null;
  const words = `${here ? "Take the key away" : "Make a key"}: ${portLabel(name, input)} of ${node}, this frame`;
  return (
    <button
      type="button"
      aria-label={words}
      aria-pressed={here}
      title={words}
      className={clsx(
        "nodrag nopan shrink-0",
        keyed ? "text-accent" : "text-faint opacity-60 hover:opacity-100",
      )}
      onClick={() => toggleKey(store, node, name, input)}
    >
      <svg viewBox="0 0 12 12" width={11} height={11} aria-hidden="true">
        <path d={SEED} fill={here ? "currentColor" : "none"} stroke="currentColor" strokeWidth="1.2" />
      </svg>
    </button>
  );
}

/** A key at this frame with the value that the input has here, or none when there was one. */
export function toggleKey(store: StudioStore, node: string, name: string, input: AnyInput): void {
  const state = store.getState();
  const { frame } = store.time.getState();
  const found = nodeOf(state, node);
  const track = found?.keys?.[name];
  const value = settingAt(found, name, input, frame);
  if (!track || !keyAt(track, frame)) {
    state.edit({ kind: "set-track", node, input: name, track: withValue(track, frame, value) });
    return;
  }
  const rest = withoutKeys(track, [frame]);
  // With the last key goes what it said; the value stays.
  state.edit(rest ? { kind: "set-track", node, input: name, track: rest } : unkeyedEdit(node, name, value));
}
