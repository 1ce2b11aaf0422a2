import type { Vec3 } from "@/core/maths/vector";

/** Steps along X, Y and Z by the keys that move what is on the stage. */
export const ARROW_STEPS: Readonly<Record<string, Vec3>> = {
  ArrowRight: [1, 0, 0],
  ArrowLeft: [-1, 0, 0],
  ArrowUp: [0, 0, -1],
  ArrowDown: [0, 0, 1],
  PageUp: [0, 1, 0],
  PageDown: [0, -1, 0],
};
