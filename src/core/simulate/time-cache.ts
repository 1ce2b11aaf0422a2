/**
 * Room for looking at the graph at other frames: results of its own and an arena of its own, given back before the next
 * frame is looked at, so that going through many frames holds no more memory than one.
 */
import { ResultMemory } from "../evaluate/memory";
import type { Lane } from "../geometry/column";
import { Arena } from "../kernels/arena";

export class TimeCache {
  /** Results at the frame that was looked at last. */
  readonly memory = new ResultMemory();
  private readonly arena = new Arena();

  /** @param published every lane that somebody may still read, of the whole piece */
  constructor(private readonly published: () => Iterable<Lane>) {}

  /**
   * Works out something at another frame and reads it; nothing of it may be used afterwards but what `read` gives.
   * @param read runs with the caller's arena
   */
  at<I, T>(workOut: (memory: ResultMemory) => I, read: (inputs: I) => T): T {
    const inputs = this.arena.within(() => workOut(this.memory));
    try {
      return read(inputs);
    } finally {
      this.sort();
    }
  }

  /** Works out a frame for what it leaves in states. */
  pass<T>(workOut: (memory: ResultMemory) => T): T {
    try {
      return this.arena.within(() => workOut(this.memory));
    } finally {
      this.sort();
    }
  }

  /** Gives back what nobody may read any more. */
  sort(): void {
    this.arena.keepOnly(this.published());
  }

  /** Gives back all that it holds. */
  dispose(): void {
    this.memory.keepOnly(new Map());
    this.sort();
  }
}
