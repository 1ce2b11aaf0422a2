/**
 * Everything of a piece that is carried from frame to frame. A frame is always reached by whole frames from the beginning, or
 * from a kept state of them, and a last part of one: it never depends on the way there. All that is carried is stepped
 * together, once a frame, in the order of the graph.
 */
import type { Lane } from "../geometry/column";
import { Checkpoints } from "./checkpoints";
import { lanesOfState, type State } from "./state";

/** One node that is stepped. */
export interface Track {
  readonly node: string;
  /** All that its states depend on. */
  readonly key: string;
  /** The frame at which it begins, at rest. */
  readonly begin: number;
  /** Its state is read by another node at the step that follows. */
  readonly comesBack: boolean;
}

/** Bytes that one node may carry on, at most. */
const MOST_BYTES = 512 * 2 ** 20;

export class StateTooLarge extends Error {
  constructor(bytes: number, most: number, frame: number) {
    const mega = (n: number) => `${Math.max(1, Math.round(n / 2 ** 20))} MB`;
    super(
      `At frame ${frame} it would carry ${mega(bytes)} on to the next; the limit is ${mega(most)}. Up to frame ${stepsFrom(frame)} it fits. Let fewer elements come in, or take some away at each step.`,
    );
  }
}

/** The whole frame that a step to a moment sets out from. */
export const stepsFrom = (frame: number): number => Math.ceil(frame) - 1;

export class Simulation {
  private readonly tracks = new Map<string, Track>();
  /** The state that each node was given last, which what it gave may share lanes with. */
  private readonly handed = new Map<string, State>();

  /** @param mostBytes that one node may carry on */
  constructor(
    readonly checkpoints = new Checkpoints(),
    private readonly mostBytes = MOST_BYTES,
  ) {}

  /** What is kept under another key, or another beginning, is dropped. @param begin asked when the key is new */
  trackOf(node: string, key: string, comesBack: boolean, begin: () => number): Track {
    const known = this.tracks.get(node);
    if (known?.key === key) return known;
    this.checkpoints.forget(node);
    const track = { node, key, comesBack, begin: begin() };
    this.tracks.set(node, track);
    return track;
  }

  /** Whether a node can be worked out at a frame from what is kept. */
  isReady({ node, begin, comesBack }: Track, frame: number): boolean {
    if (frame <= begin || this.state(node, stepsFrom(frame))) return true;
    return !comesBack && this.state(node, frame) !== undefined;
  }

  state(node: string, frame: number): State | undefined {
    return this.checkpoints.get(node, frame);
  }

  /**
   * The first frame from which all of these can be stepped through to `until`.
   * @param wanted those that are not ready there @param all those and what they need
   */
  firstToStep(wanted: readonly Track[], all: readonly Track[], until: number): number {
    const last = (track: Track) =>
      Math.max(this.checkpoints.lastBefore(track.node, until), track.begin - 1) + 1;
    let frame = Math.min(...wanted.map(last));
    const earliest = Math.min(...all.map(({ begin }) => begin));
    while (frame > earliest && !all.every((track) => this.isReady(track, frame))) frame--;
    return frame;
  }

  /** The state that a node was given last. */
  handedTo(node: string): State | undefined {
    return this.handed.get(node);
  }

  /** The state at a frame: the one that is kept, else one step on from the one before. @throws StateTooLarge */
  advance(
    { node, begin }: Track,
    frame: number,
    start: () => State,
    step: (before: State, frames: number) => State,
  ): State {
    const state = this.state(node, frame) ?? this.next(node, frame, begin, start, step);
    this.handed.set(node, state);
    return state;
  }

  private next(
    node: string,
    frame: number,
    begin: number,
    start: () => State,
    step: (before: State, frames: number) => State,
  ): State {
    let state: State;
    if (frame <= begin) state = start();
    else {
      const from = stepsFrom(frame);
      const before = this.state(node, from);
      if (!before) throw new Error(`"${node}" has no state at frame ${from}.`);
      state = step(before, frame - from);
    }
    const bytes = bytesOf(state);
    if (bytes > this.mostBytes) throw new StateTooLarge(bytes, this.mostBytes, frame);
    if (Number.isInteger(frame) && frame >= begin) this.checkpoints.put(node, frame, state);
    return state;
  }

  /** Forgets all nodes for which there is no such key. */
  keepOnly(nodes: ReadonlyMap<string, unknown>): void {
    for (const id of this.tracks.keys())
      if (!nodes.has(id)) {
        this.tracks.delete(id);
        this.handed.delete(id);
        this.checkpoints.forget(id);
      }
  }

  /** Every lane that a later step may read, or that what was given out shares. */
  *lanes(): Generator<Lane> {
    yield* this.checkpoints.lanes();
    for (const state of this.handed.values()) yield* lanesOfState(state);
  }
}

function bytesOf(state: State): number {
  let bytes = 0;
  for (const lane of new Set(lanesOfState(state))) bytes += lane.byteLength;
  return bytes;
}
