/** How far something that repeats has come at a frame, shared by the nodes that move by themselves. */
import type { FrameTime } from "../define";

export interface Passed {
  /** Steps (lattice steps of a noise, crests of a wave) since the beginning. */
  readonly steps: number;
  /** Whole steps in the piece's range when it loops, at least one; 0 when it does not. */
  readonly period: number;
}

/** With `loop` the speed is rounded so that a whole number of steps fits the range, which closes it exactly. */
export function passedSteps(time: FrameTime, stepsPerSecond: number, loop: boolean): Passed {
  const { frame, first, last, framesPerSecond } = time;
  if (!loop) return { steps: (frame / framesPerSecond) * stepsPerSecond, period: 0 };
  const frames = last - first + 1;
  const period = Math.max(1, Math.round(Math.abs((frames / framesPerSecond) * stepsPerSecond)));
  return { steps: ((frame - first) / frames) * period * Math.sign(stepsPerSecond), period };
}
