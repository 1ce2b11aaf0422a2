/** Values between two settings of an input, of any kind. */
import { clip } from "../maths/clip";
import { parseHex, toHex } from "../maths/color";
import { betweenPaths, type DrawnPath } from "../maths/drawn-path";
import { type Gradient, mixStops } from "../maths/gradient";
import type { Profile } from "../maths/profile";
import type { AnyInput } from "../nodes/define";
import type { PortKind, Setting } from "../nodes/ports";

/**
 * A value between two of a kind. Numbers and parts of vectors in proportion, colours in Oklab, gradients and profiles point
 * by point when they have as many; everything else changes half-way. Numbers may pass both ends where `t` does.
 */
export function blendSettings(
  { kind, whole }: Pick<AnyInput, "kind" | "whole">,
  from: Setting,
  to: Setting,
  t: number,
): Setting {
  if (t === 0) return from;
  if (t === 1) return to;
  return BLENDS[kind]?.(from as never, to as never, t, whole === true) ?? (t < 0.5 ? from : to);
}

type Blend = (from: never, to: never, t: number, whole: boolean) => Setting | undefined;

const between = (a: number, b: number, t: number): number => a + (b - a) * t;
const parts = (a: readonly number[], b: readonly number[], t: number): number[] =>
  a.map((v, i) => between(v, b[i], t));

const BLENDS: Readonly<Partial<Record<PortKind, Blend>>> = {
  number: (a: number, b: number, t, whole) => (whole ? Math.round(between(a, b, t)) : between(a, b, t)),
  vector: parts,
  rotation: parts,
  color: betweenColors,
  gradient(a: Gradient, b: Gradient, t) {
    if (a.stops.length !== b.stops.length) return undefined;
    const stops = a.stops.map((stop, i) => ({
      at: clip(between(stop.at, b.stops[i].at, t), 0, 1),
      color: betweenColors(stop.color, b.stops[i].color, t),
    }));
    return { ...(t < 0.5 ? a : b), stops } as unknown as Setting;
  },
  profile(a: Profile, b: Profile, t) {
    if (a.points.length !== b.points.length) return undefined;
    const points = a.points.map((point, i) => ({
      at: clip(between(point.at, b.points[i].at, t), 0, 1),
      value: between(point.value, b.points[i].value, t),
    }));
    return { ...(t < 0.5 ? a : b), points } as unknown as Setting;
  },
  path: (a: DrawnPath, b: DrawnPath, t) => betweenPaths(a, b, t) as unknown as Setting | undefined,
};

function betweenColors(a: string, b: string, t: number): string {
  const [from, to] = [parseHex(a), parseHex(b)];
  return from && to ? toHex(mixStops("oklab", from, to, clip(t, 0, 1))) : a;
}
