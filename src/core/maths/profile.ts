/** A profile: a hand-drawn curve over 0…1, value by place. */
import { type SegmentedTable, segmentedTable } from "./segmented-table";

export const PROFILE_FORMS = ["smooth", "straight", "steps"] as const;
export type ProfileForm = (typeof PROFILE_FORMS)[number];

export interface ProfilePoint {
  /** 0…1. */
  readonly at: number;
  readonly value: number;
}

/** As stored in documents: at least one point, in any order; before the first and after the last the value holds. */
export interface Profile {
  readonly form: ProfileForm;
  readonly points: readonly ProfilePoint[];
}

/** Rises evenly from 0 to 1. */
export const STRAIGHT_PROFILE: Profile = {
  form: "smooth",
  points: [
    { at: 0, value: 0 },
    { at: 1, value: 1 },
  ],
};

/** Steps of a smooth profile between two of its points: between them it goes straight. */
const STEPS = 256;

/** For look-up over 0…1. */
export function bakeProfile(profile: Profile): SegmentedTable {
  const curve = curveOf(profile);
  const { points } = curve;
  return segmentedTable({
    knots: points.map(({ at }) => at),
    lanes: 1,
    before: [points[0].value],
    after: [points[points.length - 1].value],
    steps: () => (profile.form === "smooth" ? STEPS : 1),
    between: (k, t) => [curve.between(k, t)],
  });
}

/** The value at a place: of several points there the last one's, as from there on. */
export function profileAt(profile: Profile, at: number): number {
  const { points, between } = curveOf(profile);
  const next = points.findIndex((point) => point.at > at);
  if (next <= 0) return points[next === 0 ? 0 : points.length - 1].value;
  const [a, b] = [points[next - 1], points[next]];
  return between(next - 1, (at - a.at) / (b.at - a.at));
}

/** Points in order, and the curve from point k to the next. */
function curveOf({ form, points: any }: Profile) {
  const points = [...any].sort((a, b) => a.at - b.at);
  const slopes = form === "smooth" ? monotoneSlopes(points) : [];
  const between = (k: number, t: number): number => {
    const [a, b] = [points[k], points[k + 1]];
    if (form === "steps") return a.value;
    if (form === "straight") return a.value + t * (b.value - a.value);
    const width = b.at - a.at;
    return hermite(a.value, b.value, slopes[k] * width, slopes[k + 1] * width, t);
  };
  return { points, between };
}

/** Cubic with values a, b and slopes p, q (per unit of t) at its ends. */
const hermite = (a: number, b: number, p: number, q: number, t: number): number => {
  const u = t * t;
  const v = u * t;
  return a * (2 * v - 3 * u + 1) + p * (v - 2 * u + t) + b * (3 * u - 2 * v) + q * (v - u);
};

/**
 * Slopes that never overshoot between points: M. Steffen, "A simple method for monotonic interpolation in one
 * dimension", Astronomy and Astrophysics 239 (1990), with his one-sided slopes at the ends (his
 * equations 11, 13 and 25; their numbers from memory).
 */
function monotoneSlopes(points: readonly ProfilePoint[]): number[] {
  const n = points.length;
  if (n < 2) return [0];
  const widths = points.slice(1).map((p, i) => p.at - points[i].at);
  const secants = points
    .slice(1)
    .map((p, i) => (widths[i] > 0 ? (p.value - points[i].value) / widths[i] : 0));
  const slopes = new Array<number>(n).fill(0);
  for (let i = 1; i + 1 < n; i++) {
    const [s0, s1] = [secants[i - 1], secants[i]];
    const [h0, h1] = [widths[i - 1], widths[i]];
    const parabola = h0 + h1 > 0 ? (s0 * h1 + s1 * h0) / (h0 + h1) : 0;
    slopes[i] =
      (Math.sign(s0) + Math.sign(s1)) * Math.min(Math.abs(s0), Math.abs(s1), 0.5 * Math.abs(parabola));
  }
  if (n === 2) return [secants[0], secants[0]];
  slopes[0] = endSlope(secants[0], secants[1], widths[0], widths[1]);
  slopes[n - 1] = endSlope(secants[n - 2], secants[n - 3], widths[n - 2], widths[n - 3]);
  return slopes;
}

/** The slope of the parabola through the last three points, limited so that it neither turns back nor overshoots. */
function endSlope(secant: number, inner: number, width: number, innerWidth: number): number {
  const sum = width + innerWidth;
  const slope = sum > 0 ? secant + ((secant - inner) * width) / sum : secant;
  if (slope * secant <= 0) return 0;
  return Math.abs(slope) > 2 * Math.abs(secant) ? 2 * secant : slope;
}
