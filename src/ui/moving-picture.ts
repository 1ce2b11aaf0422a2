import type { CSSProperties } from "react";

/** Moves under the pointer and when it has the focus. */
export const MOVING =
  "bg-[#14201b] bg-cover motion-safe:group-hover:[animation:strip_1.8s_infinite] motion-safe:group-focus-visible:[animation:strip_1.8s_infinite]";

/** A strip of frames side by side as a background. At rest a frame from within the piece: first frames are often bare. */
export const movingPicture = (address: string, frames: number): CSSProperties => ({
  backgroundImage: `url("${address}")`,
  backgroundSize: `${frames * 100}% 100%`,
  backgroundPositionX: `${(Math.floor(frames / 3) / (frames - 1)) * 100}%`,
  animationTimingFunction: `steps(${frames}, jump-none)`,
});
