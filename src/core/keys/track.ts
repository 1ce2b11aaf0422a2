/** Values over time as keys: what they give at a frame, and how they are changed. Keys are kept in order of frames. */
import type { GraphNode, Key, KeyEase, Track } from "../document/schema";
import { settingFault } from "../evaluate/settings";
import { clip } from "../maths/clip";
import type { AnyInput, AnyNode, Keyed } from "../nodes/define";
import type { Setting } from "../nodes/ports";
import { blendSettings } from "./blend";
import { eased } from "./ease";
import { fold } from "./repeat";

type Kind = Pick<AnyInput, "kind" | "whole" | "min" | "max" | "choices">;

/** Whether an input can change over time by keys. */
export const canBeKeyed = ({ kind, implicit }: Pick<AnyInput, "kind" | "implicit">): boolean =>
  kind !== "shape" && kind !== "asset" && kind !== "text" && !implicit;

/** The setting at a frame, which may be fractional; inside of the input's limits however far an ease swings. */
export function valueAt(
  { keys, before = "hold", after = "hold" }: Track,
  input: Kind,
  frame: number,
): Setting {
  const first = keys[0];
  const last = keys[keys.length - 1];
  const at = fold(frame, first.frame, last.frame, before, after);
  const i = lastBefore(keys, at.frame);
  const [from, to] = [keys[i], keys[Math.min(i + 1, keys.length - 1)]];
  // What does not fit is told where the value is used.
  for (const { value } of [from, to, first, last]) if (settingFault(input, value)) return value;
  const span = to.frame - from.frame;
  const t = span > 0 ? eased(from.ease ?? "linear", (at.frame - from.frame) / span) : 0;
  const value = blendSettings(input, from.value, to.value, t);
  return within(input, at.rounds === 0 ? value : shifted(value, first.value, last.value, at.rounds));
}

/** The node with these tracks and no others. */
export function withTracks(node: GraphNode, tracks: Readonly<Record<string, Track>>): GraphNode {
  const { keys: _old, ...bare } = node;
  return (Object.keys(tracks).length > 0 ? { ...bare, keys: tracks } : bare) as GraphNode;
}

/** What the node is set to at a frame: its keys give way to their values. The same object when it has none. */
export function settingsAt(
  { set, keys }: Pick<GraphNode, "set" | "keys">,
  definition: AnyNode,
  frame: number,
): GraphNode["set"] {
  if (!keys) return set;
  const settings = { ...set };
  for (const [name, track] of Object.entries(keys)) {
    const input: AnyInput | undefined = definition.inputs[name];
    if (input && canBeKeyed(input)) settings[name] = valueAt(track, input, frame);
  }
  return settings;
}

/** What the keys of an input give at any frame; null when there are none that can be used. */
export function keyedBy({ keys }: Pick<GraphNode, "keys">, { inputs }: AnyNode, name: string): Keyed | null {
  const track = keys?.[name];
  const input: AnyInput | undefined = inputs[name];
  if (!track || !input || !canBeKeyed(input)) return null;
  const { keys: list, before = "hold", after = "hold" } = track;
  const at = (frame: number) => valueAt(track, input, frame);
  const frames = list.map(({ frame }) => frame);
  return { frames, before, after, mark: JSON.stringify([name, track]), at };
}

/** Frames that are nearer than this are the same. */
const SAME = 1e-6;

const isAmong = (frames: readonly number[], key: Key): boolean =>
  frames.some((frame) => Math.abs(frame - key.frame) < SAME);

export const keyAt = (track: Track | undefined, frame: number): Key | undefined =>
  track?.keys.find((key) => Math.abs(key.frame - frame) < SAME);

/** With a value at a frame: the key that is there changes, or one is made that goes on as the one before it did. */
export function withValue(track: Track | undefined, frame: number, value: Setting): Track {
  if (!track) return { keys: [{ frame, value }] };
  const there = keyAt(track, frame);
  if (there) return { ...track, keys: track.keys.map((key) => (key === there ? { ...key, value } : key)) };
  const ease = track.keys[lastBefore(track.keys, frame)]?.ease;
  return { ...track, keys: ordered([...track.keys, { frame, value, ...(ease ? { ease } : {}) }]) };
}

/** Undefined when nothing is left. */
export function withoutKeys(track: Track, frames: readonly number[]): Track | undefined {
  const keys = track.keys.filter((key) => !isAmong(frames, key));
  return keys.length > 0 ? { ...track, keys } : undefined;
}

/**
 * Keys taken elsewhere in time. One that comes to lie on another that stays takes its place, and of two that are moved
 * onto each other the later one stays.
 */
export function movedKeys(track: Track, frames: readonly number[], to: (frame: number) => number): Track {
  const isMoved = (key: Key) => isAmong(frames, key);
  const moved = track.keys.filter(isMoved).map((key) => ({ ...key, frame: to(key.frame) }));
  const keys: Key[] = [];
  for (const key of ordered([...track.keys.filter((key) => !isMoved(key)), ...moved])) {
    const before = keys[keys.length - 1];
    if (before && Math.abs(before.frame - key.frame) < SAME) {
      if (moved.includes(key)) keys[keys.length - 1] = key;
    } else keys.push(key);
  }
  return { ...track, keys };
}

export const withEase = (track: Track, frames: readonly number[], ease: KeyEase): Track => ({
  ...track,
  keys: track.keys.map((key) => (isAmong(frames, key) ? { ...key, ease } : key)),
});

/** Array.sort leaves equal ones in their order, so that moved keys come after those that stay. */
const ordered = (keys: readonly Key[]): Key[] => [...keys].sort((a, b) => a.frame - b.frame);

/** Number of the last key at or before a frame; the first one's when all come later. */
function lastBefore(keys: readonly Key[], frame: number): number {
  let low = 0;
  let high = keys.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (keys[middle].frame <= frame) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** Numbers and vectors with what the rounds before have changed; all else as it is. */
function shifted(value: Setting, first: Setting, last: Setting, rounds: number): Setting {
  if (typeof value === "number") return value + ((last as number) - (first as number)) * rounds;
  if (!Array.isArray(value)) return value;
  const [a, b] = [first as number[], last as number[]];
  return value.map((part, i) => (part as number) + (b[i] - a[i]) * rounds);
}

function within({ kind, min, max, whole }: Kind, value: Setting): Setting {
  if (kind === "number") {
    const inside = clip(value as number, min, max);
    return whole ? Math.round(inside) : inside;
  }
  if (kind === "vector") return (value as number[]).map((part) => clip(part, min, max));
  return value;
}
