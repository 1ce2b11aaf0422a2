/**
 * Everything of a piece that is carried from frame to frame. A frame is always reached by whole frames from the beginning, or
 * from a kept state of them, and a last part of one: it never depends on the way there. All that is carried is stepped
 * together, once a frame, in the order of the graph.
 */
import type { Lane } from "../geometry/column";
import { Checkpoints } from "./checkpoints";
import { type DiskCache, markOf } from "./disk-cache";
import { lanesOfState, type State } from "./state";

/** One node that is stepped. */
export interface Track {
  readonly node: string;
  /** All that its states depend on. */
  readonly key: string;
  /** What stands for that in a file. */
  readonly mark: string;
  /** The frame at which it begins, at rest. */
  readonly begin: number;
  /** Its state is read by another node at the step that follows. */
  readonly comesBack: boolean;
}

/** From one frame that is written to disk to the next. */
const FRAMES_BETWEEN = 8;

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
  ) {
    checkpoints.onThinned = (node, frame, state) => {
      const track = this.tracks.get(node);
      if (track) this.disk?.write(track.mark, frame, state);
    };
  }

  /** Where states go that do not fit into memory, and come back from after a reload; null when there is none. */
  disk: DiskCache | null = null;

  /** What is kept under another key, or another beginning, is dropped. @param begin asked when the key is new */
  trackOf(node: string, key: string, comesBack: boolean, begin: () => number): Track {
    const known = this.tracks.get(node);
    if (known?.key === key) return known;
    this.checkpoints.forget(node);
    const track = { node, key, mark: markOf(key), comesBack, begin: begin() };
    this.tracks.set(node, track);
    return track;
  }

  /** Whether a node can be worked out at a frame from what is kept. What is on disk is read for it. */
  isReady({ node, begin, comesBack }: Track, frame: number): boolean {
    if (frame <= begin || this.state(node, stepsFrom(frame))) return true;
    return !comesBack && this.state(node, frame) !== undefined;
  }

  /** The state of a whole frame, from memory or else from disk. */
  state(node: string, frame: number): State | undefined {
    const known = this.checkpoints.get(node, frame);
    const track = this.tracks.get(node);
    if (known || !track || !this.disk?.has(track.mark, frame)) return known;
    const read = this.disk.read(track.mark, frame, (lane) => this.checkpoints.isHeld(lane));
    if (read) this.checkpoints.put(node, frame, read);
    return read;
  }

  /**
   * The first frame from which all of these can be stepped through to `until`.
   * @param wanted those that are not ready there @param all those and what they need
   */
  firstToStep(wanted: readonly Track[], all: readonly Track[], until: number): number {
    const earliest = Math.min(...all.map(({ begin }) => begin));
    let frame = Math.min(...wanted.map((track) => this.lastBefore(track, until) + 1));
    const mayBe = (track: Track) =>
      frame <= track.begin ||
      this.isKept(track, frame - 1) ||
      (!track.comesBack && this.isKept(track, frame));
    // What is said to be on disk may turn out to be damaged, and is none then.
    while (frame > earliest && !(all.every(mayBe) && all.every((track) => this.isReady(track, frame))))
      frame--;
    return frame;
  }

  private isKept({ node, mark }: Track, frame: number): boolean {
    return this.checkpoints.get(node, frame) !== undefined || this.disk?.has(mark, frame) === true;
  }

  private lastBefore({ node, mark, begin }: Track, frame: number): number {
    let last = Math.max(this.checkpoints.lastBefore(node, frame), begin - 1);
    for (const at of this.disk?.framesOf(mark) ?? []) if (at <= frame && at > last) last = at;
    return last;
  }

  /** Writes to disk what was worked out so far: every so many frames, and the last one. */
  flush(): void {
    const { disk, checkpoints } = this;
    if (!disk) return;
    for (const { node, mark } of this.tracks.values()) {
      const states = checkpoints.statesOf(node);
      const last = Math.max(...states.keys());
      for (const [frame, state] of states)
        if (frame % FRAMES_BETWEEN === 0 || frame === last) disk.write(mark, frame, state);
    }
  }

  /** Frames of which everything that is carried is on disk. */
  framesOnDisk(): readonly number[] {
    const { disk } = this;
    const [first, ...others] = this.tracks.values();
    if (!disk || !first) return [];
    return disk.framesOf(first.mark).filter((frame) => others.every(({ mark }) => disk.has(mark, frame)));
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
