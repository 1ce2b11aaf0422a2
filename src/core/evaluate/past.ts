/**
 * The graph before a node at other frames than the one that is worked out, and the states of what is stepped from frame to
 * frame. Results of other frames stand in an arena of their own and are given back before the next frame is looked at.
 * States are kept at every so many frames under a budget of bytes; a frame never depends on how one got there.
 */
import { Arena } from "../kernels/arena";
import type { Following } from "../nodes/define";
import { ResultMemory } from "./memory";

/** Bytes that the states of one node may take. */
const MOST_BYTES = 96 * 2 ** 20;

export class Past {
  /** Results before the node at the last frame that was looked at. */
  readonly memory = new ResultMemory();
  private readonly arena = new Arena();
  /** All that the states depend on. */
  private key = "";
  private readonly states = new Map<number, unknown>();
  private stateBytes = 0;
  /** Frames from one kept state to the next. */
  private every = 1;
  /** The last whole frame that was stepped to, and its state. */
  private latest: { readonly frame: number; readonly state: unknown } | null = null;

  /** Works out something at another frame and reads it; nothing of it may be used afterwards but what `read` gives. */
  look<I, T>(workOut: (memory: ResultMemory) => I, read: (inputs: I) => T): T {
    const inputs = this.arena.within(() => workOut(this.memory));
    try {
      return read(inputs);
    } finally {
      this.arena.keepOnly(this.memory.lanes());
    }
  }

  /**
   * The state at a frame.
   * @param key all that states depend on; with another one what is kept is dropped
   * @param look gives the inputs at a frame to read
   * @param stepped is told of every whole frame on the way
   */
  follow<I, S>(
    key: string,
    frame: number,
    begin: number,
    secondsAFrame: number,
    { start, step, bytes }: Omit<Following<I, S>, "runUp">,
    look: <T>(frame: number, read: (inputs: I) => T) => T,
    stepped?: (frame: number, until: number) => void,
  ): S {
    if (key !== this.key) this.forget(key);
    if (frame <= begin) return look(frame, start);
    const whole = Math.floor(frame);
    let { at, state } = this.nearest<S>(whole, begin) ?? { at: begin, state: null };
    if (state === null) {
      state = look(begin, start);
      this.keep(begin, begin, state, bytes);
    }
    while (at < whole) {
      at++;
      stepped?.(at, whole);
      const before: S = state;
      state = look(at, (inputs) => step(before, inputs, secondsAFrame));
      this.latest = { frame: at, state };
      if ((at - begin) % this.every === 0) this.keep(at, begin, state, bytes);
    }
    const rest = frame - whole;
    const last: S = state;
    return rest > 0 ? look(frame, (inputs) => step(last, inputs, rest * secondsAFrame)) : last;
  }

  /** Gives back all that it holds. */
  dispose(): void {
    this.forget("");
    this.memory.keepOnly(new Map());
    this.arena.keepOnly([]);
  }

  private forget(key: string): void {
    this.key = key;
    this.states.clear();
    this.stateBytes = 0;
    this.every = 1;
    this.latest = null;
  }

  private nearest<S>(frame: number, begin: number): { at: number; state: S } | null {
    let at = Number.NEGATIVE_INFINITY;
    for (const kept of this.states.keys()) if (kept <= frame && kept > at) at = kept;
    if (this.latest && this.latest.frame <= frame && this.latest.frame > at)
      return { at: this.latest.frame, state: this.latest.state as S };
    return at >= begin ? { at, state: this.states.get(at) as S } : null;
  }

  private keep<S>(frame: number, begin: number, state: S, bytesOf: (state: S) => number): void {
    this.states.set(frame, state);
    this.stateBytes += bytesOf(state);
    while (this.stateBytes > MOST_BYTES && this.states.size > 2) {
      this.every *= 2;
      for (const [kept, other] of this.states)
        if ((kept - begin) % this.every !== 0) {
          this.states.delete(kept);
          this.stateBytes -= bytesOf(other as S);
        }
    }
  }
}
