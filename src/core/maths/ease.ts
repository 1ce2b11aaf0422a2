/**
 * Named shapes of a 0…1 response and the kernels that work them out: `smooth` is 3t²−2t³ (GLSL smoothstep), `cosine`
 * (1−cos πt)/2, `in`, `out` and `in-out` are cubic, `overshoot` is back-out by 10 % (R. Penner, 2001).
 */
export const EASE_KERNELS = {
  linear: "easeLinear",
  smooth: "easeSmooth",
  cosine: "easeCosine",
  in: "easeIn",
  out: "easeOut",
  "in-out": "easeInOut",
  overshoot: "easeOvershoot",
} as const;

export type EaseName = keyof typeof EASE_KERNELS;

/** In the order in which they are offered. */
export const EASES = Object.keys(EASE_KERNELS) as EaseName[];
