/** How a value goes from one key to the next: named curves and cubic Béziers of CSS Easing Functions Level 1. */

export const KEY_EASES = ["hold", "linear", "ease", "ease-in", "ease-out", "ease-in-out"] as const;
export type KeyEaseName = (typeof KEY_EASES)[number];

/** Handles x1 y1 x2 y2 of a cubic from (0, 0) to (1, 1). */
export type Handles = readonly [number, number, number, number];

/** CSS Easing Functions Level 1, § 2.2.1, "Keywords". */
const NAMED: Readonly<Record<Exclude<KeyEaseName, "hold" | "linear">, Handles>> = {
  ease: [0.25, 0.1, 0.25, 1],
  "ease-in": [0.42, 0, 1, 1],
  "ease-out": [0, 0, 0.58, 1],
  "ease-in-out": [0.42, 0, 0.58, 1],
};

/** The handles that a named curve has; those of a straight line for "linear" and "hold". */
export const handlesOf = (ease: KeyEaseName | Handles): Handles =>
  typeof ease !== "string"
    ? ease
    : ease === "hold" || ease === "linear"
      ? [1 / 3, 1 / 3, 2 / 3, 2 / 3]
      : NAMED[ease];

/** How far the value has come at `t` from 0 to 1 of the way in time. */
export function eased(ease: KeyEaseName | Handles, t: number): number {
  if (t <= 0) return 0;
  if (t >= 1) return 1;
  if (ease === "hold") return 0;
  if (ease === "linear") return t;
  const [x1, y1, x2, y2] = handlesOf(ease);
  return cubic(y1, y2, solve(x1, x2, t));
}

/** A coordinate of the cubic from 0 to 1 with these two handles. */
const cubic = (a: number, b: number, s: number): number =>
  ((1 - 3 * b + 3 * a) * s + (3 * b - 6 * a)) * s * s + 3 * a * s;
const slope = (a: number, b: number, s: number): number =>
  3 * (1 - 3 * b + 3 * a) * s * s + 2 * (3 * b - 6 * a) * s + 3 * a;

/** The parameter at which x is reached; x never turns back, as its handles lie between 0 and 1. */
function solve(x1: number, x2: number, x: number): number {
  let low = 0;
  let high = 1;
  let s = x;
  for (let k = 0; k < 64; k++) {
    const off = cubic(x1, x2, s) - x;
    if (Math.abs(off) < 1e-12) break;
    if (off > 0) high = s;
    else low = s;
    const next = s - off / slope(x1, x2, s);
    s = next > low && next < high ? next : (low + high) / 2;
  }
  return s;
}
