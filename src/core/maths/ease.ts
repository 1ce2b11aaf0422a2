/** Named shapes of a 0…1 response. Inputs outside 0…1 are clipped by the callers. */

export const EASES = ["linear", "smooth", "cosine", "in", "out", "in-out", "overshoot"] as const;
export type EaseName = (typeof EASES)[number];

/** Back easing constant for a 10 % overshoot (R. Penner, 2001). */
const BACK = 1.70158;

/**
 * `smooth` is 3t²−2t³ (GLSL smoothstep), `cosine` (1−cos πt)/2, `in`/`out`/`in-out` are cubic,
 * `overshoot` is Penner's back-out.
 */
export function ease(name: EaseName, t: number): number {
  switch (name) {
    case "linear":
      return t;
    case "smooth":
      return t * t * (3 - 2 * t);
    case "cosine":
      return (1 - Math.cos(Math.PI * t)) / 2;
    case "in":
      return t * t * t;
    case "out":
      return 1 - (1 - t) ** 3;
    case "in-out":
      return t < 0.5 ? 4 * t * t * t : 1 - (-2 * t + 2) ** 3 / 2;
    case "overshoot":
      return 1 + (BACK + 1) * (t - 1) ** 3 + BACK * (t - 1) ** 2;
  }
}
