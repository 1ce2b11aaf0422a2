/** Curves of values over time: where their keys and handles lie, and what dragging them makes of a track. */
import type { Key, Track } from "@/core/document/schema";
import { handlesOf } from "@/core/keys/ease";
import { movedKeys, withEase, withValue } from "@/core/keys/track";
import { clip } from "@/core/maths/clip";
import type { AnyInput } from "@/core/nodes/define";
import type { Setting } from "@/core/nodes/ports";

/** A frame and a value. */
export type Spot = readonly [frame: number, value: number];

/** Numbers of a value: one, or three of a vector; none of what has no curve. */
export const partsOf = (value: Setting): readonly number[] =>
  typeof value === "number"
    ? [value]
    : Array.isArray(value) && value.every((part) => typeof part === "number")
      ? (value as readonly number[])
      : [];

/** How many curves a track has. */
export const curveCount = ({ keys }: Track): number =>
  Math.min(...keys.map(({ value }) => partsOf(value).length));

/** The two handles between key i and the next one of a part; null after the last key, or where the value jumps. */
export function handleSpots({ keys }: Track, i: number, part: number): readonly [Spot, Spot] | null {
  const [from, to] = [keys[i], keys[i + 1]];
  if (!to || from.ease === "hold") return null;
  const [x1, y1, x2, y2] = handlesOf(from.ease ?? "linear");
  const [a, b] = [partsOf(from.value)[part], partsOf(to.value)[part]];
  const at = (x: number, y: number): Spot => [from.frame + x * (to.frame - from.frame), a + y * (b - a)];
  return [at(x1, y1), at(x2, y2)];
}

/**
 * The track with a handle elsewhere: it stays between its keys in time. Where both keys have one value the handle moves in time
 * only, as there is no way to measure its height by.
 */
export function withHandle(track: Track, i: number, which: 0 | 1, part: number, [frame, value]: Spot): Track {
  const [from, to] = [track.keys[i], track.keys[i + 1]];
  if (!to) return track;
  const handles = [...handlesOf(from.ease === "hold" ? "linear" : (from.ease ?? "linear"))];
  const [a, b] = [partsOf(from.value)[part], partsOf(to.value)[part]];
  handles[which * 2] = rounded(Math.min(1, Math.max(0, (frame - from.frame) / (to.frame - from.frame))));
  if (a !== b) handles[which * 2 + 1] = rounded((value - a) / (b - a));
  return withEase(track, [from.frame], handles as [number, number, number, number]);
}

/** The track with a key elsewhere in time and, in one part, in value, within the input's limits; it does not pass its neighbours. */
export function withKeyAt(
  track: Track,
  i: number,
  part: number,
  [frame, value]: Spot,
  { min, max, whole }: Pick<AnyInput, "min" | "max" | "whole"> = {},
): Track {
  const { keys } = track;
  const [before, key, after] = [keys[i - 1], keys[i], keys[i + 1]];
  const least = before ? before.frame + NEAREST : Number.NEGATIVE_INFINITY;
  const most = after ? after.frame - NEAREST : Number.POSITIVE_INFINITY;
  const to = Math.min(most, Math.max(least, frame));
  const moved = to === key.frame ? track : movedKeys(track, [key.frame], () => to);
  return withValue(
    moved,
    to,
    withPart(key, part, clip(whole ? Math.round(value) : rounded(value), min, max)),
  );
}

/** Frames between neighbours at least. */
const NEAREST = 0.001;

const rounded = (n: number): number => Number(n.toFixed(4));

function withPart({ value }: Key, part: number, to: number): Setting {
  if (typeof value === "number") return to;
  return partsOf(value).map((own, p) => (p === part ? to : own));
}
