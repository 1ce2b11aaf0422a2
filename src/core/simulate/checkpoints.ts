/**
 * States that are kept to go on from: close together near the frame that is looked at, further apart with the distance from
 * it, all nodes of a piece under one budget. Lanes that several states share are counted once.
 */
import type { Lane } from "../geometry/column";
import { lanesOfState, STATE_BYTES, type State } from "./state";

/** Bytes of all states of a piece. */
export const CHECKPOINT_BYTES = 128 * 2 ** 20;

/** What is kept of one node. */
interface Kept {
  readonly states: Map<number, State>;
  bytes: number;
}

const NONE: ReadonlyMap<number, State> = new Map();

export class Checkpoints {
  private readonly nodes = new Map<string, Kept>();
  /** How many states hold a lane. */
  private readonly held = new Map<Lane, number>();
  private readonly inUse = new Map<number, number>();
  private total = 0;
  /** The frame around which they lie close. */
  playhead = 0;

  /** Told of every state that is given up for want of room. */
  onThinned: (node: string, frame: number, state: State) => void = () => {};

  constructor(private readonly most = CHECKPOINT_BYTES) {}

  get bytes(): number {
    return this.total;
  }

  bytesOf(node: string): number {
    return this.nodes.get(node)?.bytes ?? 0;
  }

  /** Whole frames of which something is kept, ascending. */
  get frames(): number[] {
    const frames = new Set<number>();
    for (const { states } of this.nodes.values()) for (const frame of states.keys()) frames.add(frame);
    return [...frames].sort((a, b) => a - b);
  }

  /** All states of a node, by frame. */
  statesOf(node: string): ReadonlyMap<number, State> {
    return this.nodes.get(node)?.states ?? NONE;
  }

  isHeld(lane: Lane): boolean {
    return this.held.has(lane);
  }

  get(node: string, frame: number): State | undefined {
    return this.nodes.get(node)?.states.get(frame);
  }

  /** The last frame up to `frame` of which a node's state is kept; −∞ when there is none. */
  lastBefore(node: string, frame: number): number {
    let last = Number.NEGATIVE_INFINITY;
    for (const at of this.nodes.get(node)?.states.keys() ?? []) if (at <= frame && at > last) last = at;
    return last;
  }

  put(node: string, frame: number, state: State): void {
    let kept = this.nodes.get(node);
    if (!kept) this.nodes.set(node, (kept = { states: new Map(), bytes: 0 }));
    if (kept.states.has(frame)) this.drop(kept, frame);
    kept.states.set(frame, state);
    this.count(kept, state, 1);
    this.thin(frame);
  }

  forget(node: string): void {
    const kept = this.nodes.get(node);
    if (!kept) return;
    for (const frame of [...kept.states.keys()]) this.drop(kept, frame);
    this.nodes.delete(node);
  }

  /** Leaves a frame alone that is being stepped from, until it is let go as often. */
  hold(frame: number): void {
    this.inUse.set(frame, (this.inUse.get(frame) ?? 0) + 1);
  }

  letGo(frame: number): void {
    const left = (this.inUse.get(frame) ?? 0) - 1;
    if (left > 0) this.inUse.set(frame, left);
    else this.inUse.delete(frame);
  }

  /** Every lane that a state holds. */
  lanes(): Iterable<Lane> {
    return this.held.keys();
  }

  private drop(kept: Kept, frame: number): void {
    const state = kept.states.get(frame);
    if (!state) return;
    kept.states.delete(frame);
    this.count(kept, state, -1);
  }

  private count(kept: Kept, state: State, change: 1 | -1): void {
    const before = this.total;
    this.total += change * STATE_BYTES;
    for (const lane of lanesOfState(state)) {
      const holders = (this.held.get(lane) ?? 0) + change;
      if (holders === 0) this.held.delete(lane);
      else this.held.set(lane, holders);
      if (holders === (change > 0 ? 1 : 0)) this.total += change * lane.byteLength;
    }
    kept.bytes += this.total - before;
  }

  /** Gives up frames until the rest fits. The one that has just been put and the one before it stay: they are stepped from. */
  private thin(latest: number): void {
    while (this.total > this.most) {
      const frames = this.frames;
      let worst = -1;
      let least = Number.POSITIVE_INFINITY;
      frames.forEach((frame, i) => {
        if (frame === latest || frame === latest - 1 || this.inUse.has(frame)) return;
        const next = frames[i + 1] ?? frame + 1;
        const gap = next - (frames[i - 1] ?? frame - 1);
        // What it would cost to do without it, against how far from the playhead that is.
        const worth = gap / (1 + Math.abs(frame - this.playhead));
        if (worth < least) [least, worst] = [worth, frame];
      });
      if (least === Number.POSITIVE_INFINITY) return;
      for (const [node, kept] of this.nodes) {
        const state = kept.states.get(worst);
        if (state) this.onThinned(node, worst, state);
        this.drop(kept, worst);
      }
    }
  }
}
