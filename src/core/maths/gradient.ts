/** A colour gradient: stops over 0…1, as linear RGBA. */
import { alphaShare, decodeSrgb, encodeSrgb, fromOklab, parseHex, type Rgba, toOklab } from "./color";
import { type SegmentedTable, segmentedTable } from "./segmented-table";

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

const baked = new WeakMap<Gradient, SegmentedTable>();

/**
 * Linear RGBA for look-up; before the first and after the last stop the colour holds. Worked out once a gradient, which is
 * never changed.
 */
export function bakeGradient(gradient: Gradient): SegmentedTable {
  let table = baked.get(gradient);
  if (!table) baked.set(gradient, (table = bake(gradient)));
  return table;
}

/** Steps over the whole of 0…1, and in one segment at least: between them colours go straight. */
const STEPS = 256;
const LEAST_STEPS = 64;

function bake(gradient: Gradient): SegmentedTable {
  const stops = stopsOf(gradient);
  return segmentedTable({
    knots: stops.map(({ at }) => at),
    lanes: 4,
    before: stops[0].color,
    after: stops[stops.length - 1].color,
    steps: (k) => Math.max(LEAST_STEPS, STEPS * (stops[k + 1].at - stops[k].at)),
    between: (k, t) => mixStops(gradient.space, stops[k].color, stops[k + 1].color, t),
  });
}

const stopsOf = ({ stops }: Gradient): { at: number; color: Rgba }[] =>
  [...stops]
    .sort((a, b) => a.at - b.at)
    .map(({ at, color }) => ({ at, color: parseHex(color) ?? ([0, 0, 0, 1] as Rgba) }));

/** The colour at a place: of several stops there the last one's, as from there on. */
export function gradientAt(gradient: Gradient, at: number): Rgba {
  const stops = stopsOf(gradient);
  const next = stops.findIndex((stop) => stop.at > at);
  if (next <= 0) return stops[next === 0 ? 0 : stops.length - 1].color;
  const [a, b] = [stops[next - 1], stops[next]];
  return mixStops(gradient.space, a.color, b.color, (at - a.at) / (b.at - a.at));
}

/** Two linear colours mixed in the named space, each by its alpha; alpha is mixed linearly. */
export function mixStops(space: GradientSpace, a: Rgba, b: Rgba, t: number): Rgba {
  const alpha = a[3] + t * (b[3] - a[3]);
  const share = alphaShare(t, a[3], b[3]);
  if (space === "linear") return [...lerp(a, b, share), alpha];
  if (space === "oklab") {
    return [...fromOklab(...lerp(toOklab(a[0], a[1], a[2]), toOklab(b[0], b[1], b[2]), share)), alpha];
  }
  const mixed = lerp(
    [encodeSrgb(a[0]), encodeSrgb(a[1]), encodeSrgb(a[2])],
    [encodeSrgb(b[0]), encodeSrgb(b[1]), encodeSrgb(b[2])],
    share,
  );
  return [decodeSrgb(mixed[0]), decodeSrgb(mixed[1]), decodeSrgb(mixed[2]), alpha];
}

const lerp = (a: readonly number[], b: readonly number[], t: number): [number, number, number] => [
  a[0] + t * (b[0] - a[0]),
  a[1] + t * (b[1] - a[1]),
  a[2] + t * (b[2] - a[2]),
];
