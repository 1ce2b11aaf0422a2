/**
 * Other threads that take a share of the blocks. Each has its own kernels and memory; columns are shared, so nothing
 * but the program crosses. Who starts the threads is not the core's business: it is handed a pool.
 */
import { cancellable } from "../cancelling";
import { kernels } from "../kernels/kernels";
import { type RangeJob, runRange } from "./range";

/** Places in the shared status of one range. */
const DONE = 0;
const NOT_FINITE = 1;
/** Counts up while the helper works. */
const BEAT = 2;
/** Set to stop the helper. */
const STOP = 3;
const PLACES = 4;

const FINISHED = 1;
const FAILED = 2;

/** Milliseconds without a beat after which a helper is given up. */
const SILENCE = 4000;

export interface RangeMessage {
  readonly job: RangeJob;
  readonly from: number;
  readonly until: number;
  readonly status: Int32Array;
}

/** A thread that can be sent a message and does not need to be listened to. */
export interface Helper {
  postMessage(message: RangeMessage): void;
}

/** What a helper does with a message. */
export function helpWithRange({ job, from, until, status }: RangeMessage): void {
  const look = () => {
    Atomics.add(status, BEAT, 1);
    if (Atomics.load(status, STOP) !== 0) throw new Error("No longer wanted.");
  };
  try {
    status[NOT_FINITE] = cancellable(look, () => runRange(kernels(), job, from, until));
    Atomics.store(status, DONE, FINISHED);
  } catch {
    Atomics.store(status, DONE, FAILED);
  }
  Atomics.notify(status, DONE);
}

/** Helpers that are ready. `wanted` is called when there is work for more of them. */
export class HelperPool {
  private readonly ready: Helper[] = [];

  constructor(private readonly wanted: () => void = () => undefined) {}

  add(helper: Helper): void {
    this.ready.push(helper);
  }

  get count(): number {
    this.wanted();
    return this.ready.length;
  }

  /** Runs all ranges, the last of them here. Returns the sum of what the ranges return. */
  run(job: RangeJob, ranges: readonly (readonly [number, number])[]): number {
    const own = ranges[ranges.length - 1];
    const sent = ranges.slice(0, -1).map(([from, until], i) => {
      const status = new Int32Array(new SharedArrayBuffer(PLACES * 4));
      this.ready[i].postMessage({ job, from, until, status });
      return { status, from, until, helper: this.ready[i] };
    });
    try {
      let total = runRange(kernels(), job, own[0], own[1]);
      for (const { status, from, until, helper } of sent) {
        const answered = this.wait(status);
        if (!answered) this.ready.splice(this.ready.indexOf(helper), 1);
        // What a helper could not do is done here: a thread that died costs time, not the result.
        total +=
          answered && status[DONE] === FINISHED ? status[NOT_FINITE] : runRange(kernels(), job, from, until);
      }
      return total;
    } finally {
      for (const { status } of sent) Atomics.store(status, STOP, 1);
    }
  }

  /** False when the helper has gone silent. */
  private wait(status: Int32Array): boolean {
    for (;;) {
      const beat = Atomics.load(status, BEAT);
      if (Atomics.wait(status, DONE, 0, SILENCE) !== "timed-out") return true;
      if (Atomics.load(status, BEAT) === beat) return false;
    }
  }
}

let pool: HelperPool | null = null;

/** Sets the helpers of this thread; null for none. */
export function setHelpers(helpers: HelperPool | null): void {
  pool = helpers;
}

export const helpers = (): HelperPool | null => pool;
