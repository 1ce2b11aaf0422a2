/** A colour gradient: stops over 0…1, baked to a table of linear RGBA for look-up. */
import { decodeSrgb, encodeSrgb, fromOklab, parseHex, type Rgba, toOklab } from "./color";

export const GRADIENT_SPACES = ["oklab", "linear", "srgb"] as const;
export type GradientSpace = (typeof GRADIENT_SPACES)[number];

export interface GradientStop {
  /** 0…1. */
  readonly at: number;
  /** `#rrggbb` or `#rrggbbaa`. */
  readonly color: string;
}

/** As stored in documents: at least one stop, in any order. */
export interface Gradient {
  readonly space: GradientSpace;
  readonly stops: readonly GradientStop[];
}

export const TABLE_SIZE = 257;

const baked = new WeakMap<Gradient, Float32Array>();

/**
 * Table of TABLE_SIZE × 4 linear RGBA numbers; before the first and after the last stop the colour holds. Worked out
 * once a gradient, which is never changed.
 */
export function bakeGradient(gradient: Gradient): Float32Array {
  let table = baked.get(gradient);
  if (!table) baked.set(gradient, (table = bake(gradient)));
  return table;
}

function bake(gradient: Gradient): Float32Array {
  const stops = [...gradient.stops]
    .sort((a, b) => a.at - b.at)
    .map((stop) => ({ at: stop.at, color: parseHex(stop.color) ?? ([0, 0, 0, 1] as Rgba) }));
  const table = new Float32Array(TABLE_SIZE * 4);
  let next = 0;
  for (let i = 0; i < TABLE_SIZE; i++) {
    const at = i / (TABLE_SIZE - 1);
    while (next < stops.length && stops[next].at <= at) next++;
    const before = stops[Math.max(0, next - 1)];
    const after = stops[Math.min(stops.length - 1, next)];
    const width = after.at - before.at;
    const t = width > 0 ? Math.min(1, Math.max(0, (at - before.at) / width)) : 0;
    table.set(mixStops(gradient.space, before.color, after.color, t), i * 4);
  }
  return table;
}

/** Two linear colours mixed in the named space; alpha is mixed linearly. */
export function mixStops(space: GradientSpace, a: Rgba, b: Rgba, t: number): Rgba {
  const alpha = a[3] + t * (b[3] - a[3]);
  if (space === "linear") return [...lerp(a, b, t), alpha];
  if (space === "oklab") {
    return [...fromOklab(...lerp(toOklab(a[0], a[1], a[2]), toOklab(b[0], b[1], b[2]), t)), alpha];
  }
  const mixed = lerp(
    [encodeSrgb(a[0]), encodeSrgb(a[1]), encodeSrgb(a[2])],
    [encodeSrgb(b[0]), encodeSrgb(b[1]), encodeSrgb(b[2])],
    t,
  );
  return [decodeSrgb(mixed[0]), decodeSrgb(mixed[1]), decodeSrgb(mixed[2]), alpha];
}

const lerp = (a: readonly number[], b: readonly number[], t: number): [number, number, number] => [
  a[0] + t * (b[0] - a[0]),
  a[1] + t * (b[1] - a[1]),
  a[2] + t * (b[2] - a[2]),
];
