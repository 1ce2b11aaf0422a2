/**
 * Named shapes of a 0…1 response, in the order in which the kernel knows them: `smooth` is 3t²−2t³ (GLSL smoothstep),
 * `cosine` (1−cos πt)/2, `in`, `out` and `in-out` are cubic, `overshoot` is back-out by 10 % (R. Penner, 2001).
 */
export const EASES = ["linear", "smooth", "cosine", "in", "out", "in-out", "overshoot"] as const;
export type EaseName = (typeof EASES)[number];
