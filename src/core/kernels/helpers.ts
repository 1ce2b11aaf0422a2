/**
 * Other threads that take a share of the elements. They work in the same memory with kernels of their own, so nothing
 * but the job crosses. Who starts the threads is not the core's business: it is handed a pool.
 */
import { cancellable } from "../cancelling";
import { BLOCK, type RangeJob, runRange } from "./job";
import { engine, Kernels, withScratch } from "./kernels";

/** Elements below which handing them out costs more than it saves. */
const SHARED_FROM = 65_536;

/** Places in the shared status of one range. */
const DONE = 0;
const COUNTED = 1;
/** Counts up while the helper works. */
const BEAT = 2;
/** Set to stop the helper. */
const STOP = 3;
const PLACES = 4;

const FINISHED = 1;
const FAILED = 2;

/** Milliseconds without a beat after which a helper is given up. */
const SILENCE = 4000;

/** The memory to work in comes once, then ranges. */
export type HelperMessage =
  | { readonly memory: WebAssembly.Memory }
  | {
      readonly job: RangeJob;
      readonly scratch: number;
      readonly from: number;
      readonly until: number;
      readonly status: Int32Array;
    };

/** A thread that can be sent a message and does not need to be listened to. */
export interface Helper {
  postMessage(message: HelperMessage): void;
  /** Ends it for good. */
  terminate(): unknown;
}

let own: Kernels | null = null;

/** What a helper does with a message. */
export function help(message: HelperMessage): void {
  if ("memory" in message) {
    own = Kernels.load(message.memory);
    return;
  }
  const { job, scratch, from, until, status } = message;
  const kernels = own;
  const look = () => {
    Atomics.add(status, BEAT, 1);
    if (Atomics.load(status, STOP) !== 0) throw new Error("No longer wanted.");
  };
  try {
    if (!kernels) throw new Error("No memory to work in has come.");
    status[COUNTED] = cancellable(look, () => runRange(kernels, job, scratch, from, until));
    Atomics.store(status, DONE, FINISHED);
  } catch {
    Atomics.store(status, DONE, FAILED);
  }
  Atomics.notify(status, DONE);
}

export interface PoolOptions {
  /** Called when there is work that helpers could share. */
  readonly wanted?: () => void;
  /** Elements from which work is shared out. */
  readonly sharedFrom?: number;
}

/** Helpers that are ready. */
export class HelperPool {
  private readonly ready: Helper[] = [];
  private readonly wanted: () => void;
  private readonly sharedFrom: number;

  constructor({ wanted = () => undefined, sharedFrom = SHARED_FROM }: PoolOptions = {}) {
    this.wanted = wanted;
    this.sharedFrom = sharedFrom;
  }

  add(helper: Helper): void {
    helper.postMessage({ memory: engine().memory.memory });
    this.ready.push(helper);
  }

  /** Threads for so many elements, this one included. */
  threadsFor(count: number): number {
    if (count < this.sharedFrom) return 1;
    this.wanted();
    return 1 + this.ready.length;
  }

  /** Runs all ranges, the last of them here. Returns the sum of what the ranges return. */
  run(job: RangeJob, scratches: readonly number[], ranges: readonly (readonly [number, number])[]): number {
    const { kernels } = engine();
    const last = ranges.length - 1;
    const sent = ranges.slice(0, last).map(([from, until], i) => {
      const status = new Int32Array(new SharedArrayBuffer(PLACES * 4));
      const helper = this.ready[i];
      helper.postMessage({ job, scratch: scratches[i], from, until, status });
      return { status, from, until, helper, scratch: scratches[i] };
    });
    try {
      let total = runRange(kernels, job, scratches[last], ...ranges[last]);
      for (const { status, from, until, helper, scratch } of sent) {
        const answered = this.wait(status);
        if (!answered) this.giveUp(helper);
        // What a helper could not do is done here: a thread that died costs time, not the result.
        total +=
          answered && status[DONE] === FINISHED
            ? status[COUNTED]
            : runRange(kernels, job, scratch, from, until);
      }
      return total;
    } finally {
      // None may write any more when this returns: its scratch and its targets are given to others afterwards.
      for (const { status } of sent) Atomics.store(status, STOP, 1);
      for (const { status, helper } of sent)
        if (this.ready.includes(helper) && !this.wait(status)) this.giveUp(helper);
    }
  }

  private giveUp(helper: Helper): void {
    this.ready.splice(this.ready.indexOf(helper), 1);
    helper.terminate();
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

/** True when the job crosses to another thread without copying anything large. */
const canCross = ({ bring, take, calls }: RangeJob): boolean =>
  bring.length === 0 && take.length === 0 && calls.every((call) => "kernel" in call);

/**
 * Runs a job over elements 0 … count − 1, shared out to helpers when it is worth it.
 * @param finish reads what each range left in its scratch, by address
 * @returns the sum of what counted calls return
 */
export function runJob(
  job: RangeJob,
  count: number,
  finish?: (scratches: readonly number[]) => void,
): number {
  const threads = pool && canCross(job) ? pool.threadsFor(count) : 1;
  return withScratch((scratch) => {
    const share = Math.ceil(count / threads / BLOCK) * BLOCK;
    const ranges = Array.from(
      { length: threads },
      (_, i) => [Math.min(count, i * share), Math.min(count, (i + 1) * share)] as const,
    );
    const scratches = ranges.map(() => scratch.room(job.scratch));
    const { kernels } = scratch.engine;
    const total =
      pool && threads > 1
        ? pool.run(job, scratches, ranges)
        : runRange(kernels, job, scratches[0], ...ranges[0]);
    finish?.(scratches);
    return total;
  });
}
