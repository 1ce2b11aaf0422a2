import type { View } from "@/core/document/schema";

/** Field of view, degrees. */
export const DEFAULT_ANGLE = 35;

/** From the front right, a little above. */
export const DEFAULT_VIEW: View = { position: [6, 5, 8], target: [0, 0, 0] };
