/** What the engine's memory is used for, and who gives way when it runs short. */
import { drawnBytes } from "../core/draw/draw-memory";
import type { Evaluator } from "../core/evaluate/evaluator";
import { engine } from "../core/kernels/kernels";
import type { FrameBuffer } from "./frame-buffer";

/** Bytes. */
export interface Ledger {
  /** What all nodes gave at the frame that was worked out last. */
  readonly results: number;
  /** States of other frames. */
  readonly states: number;
  /** Frames that need only be drawn, what they share with each other counted once. */
  readonly frames: number;
  /** What is on the stage and on its way there. */
  readonly drawings: number;
  /** Everything that stands in the shared memory: all of these, and tables. */
  readonly used: number;
  /** The most there can be. */
  readonly ceiling: number;
}

export function ledgerOf(evaluator: Evaluator, buffer: FrameBuffer): Ledger {
  const { used, ceiling } = engine().memory;
  return {
    results: evaluator.resultBytes,
    states: evaluator.simulation.checkpoints.bytes,
    frames: buffer.bytes,
    drawings: drawnBytes(),
    used,
    ceiling,
  };
}

/** Shares of the ceiling from which no further frame is kept, and from which those that are kept give way. */
const KEEP_BELOW = 0.7;
const GIVE_WAY_FROM = 0.85;

export const hasRoomForFrames = (): boolean => engine().memory.used < KEEP_BELOW * engine().memory.ceiling;

/** Frames that are kept ahead are the first to go: they can be worked out again. */
export function makeRoom(buffer: FrameBuffer): void {
  const { used, ceiling } = engine().memory;
  if (used >= GIVE_WAY_FROM * ceiling) buffer.clear();
}
