/** A profile: a hand-drawn curve over 0…1, baked to a table for look-up. */

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

export const PROFILE_TABLE = 1025;

/** Table of PROFILE_TABLE values over 0…1. */
export function bakeProfile(profile: Profile): Float32Array {
  const points = [...profile.points].sort((a, b) => a.at - b.at);
  const slopes = profile.form === "smooth" ? monotoneSlopes(points) : [];
  const table = new Float32Array(PROFILE_TABLE);
  let next = 0;
  for (let i = 0; i < PROFILE_TABLE; i++) {
    const at = i / (PROFILE_TABLE - 1);
    while (next < points.length && points[next].at <= at) next++;
    const k = Math.max(0, next - 1);
    const a = points[k];
    const b = points[Math.min(points.length - 1, next)];
    const width = b.at - a.at;
    if (width <= 0 || profile.form === "steps" || at < a.at) table[i] = a.value;
    else {
      const t = (at - a.at) / width;
      table[i] =
        profile.form === "straight"
          ? a.value + t * (b.value - a.value)
          : hermite(a.value, b.value, slopes[k] * width, slopes[k + 1] * width, t);
    }
  }
  return table;
}

/** Cubic with values a, b and slopes p, q (per unit of t) at its ends. */
const hermite = (a: number, b: number, p: number, q: number, t: number): number => {
  const u = t * t;
  const v = u * t;
  return a * (2 * v - 3 * u + 1) + p * (v - 2 * u + t) + b * (3 * u - 2 * v) + q * (v - u);
};

/**
 * Slopes that never overshoot between points: M. Steffen, "A simple method for monotonic interpolation in one
 * dimension", Astronomy and Astrophysics 239 (1990), with his one-sided slopes at the ends.
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
  slopes[0] = (3 * secants[0] - slopes[1]) / 2;
  slopes[n - 1] = (3 * secants[n - 2] - slopes[n - 2]) / 2;
  return slopes;
}
