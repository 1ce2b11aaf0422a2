/**
 * Other threads that take a share of the elements. They work in the same memory with kernels of their own, so nothing
 * but the job crosses. Who starts the threads is not the core's business: it is handed a pool.
 */
import { BLOCK, type RangeJob, runRange } from "./job";
import { engine, Kernels, setEngine, withScratch } from "./kernels";
import { KernelMemory } from "./memory";
import { Task } from "./task";

/** Elements below which handing them out costs more than it saves. */
const SHARED_FROM = 65_536;

/** The memory to work in comes once, then ranges. */
export type HelperMessage =
  | { readonly memory: WebAssembly.Memory }
  | {
      readonly job: RangeJob;
      readonly scratch: number;
      readonly from: number;
      readonly until: number;
      readonly places: Int32Array;
    };

/** A thread that can be sent a message and does not need to be listened to. */
export interface Helper {
  postMessage(message: object): void;
  /** Ends it for good. */
  terminate(): unknown;
}

/** What a helper does with a message. */
export function help(message: HelperMessage): void {
  if ("memory" in message) {
    const { memory } = message;
    // Of the memory itself a helper hands nothing out.
    setEngine({ kernels: Kernels.load(memory), memory: KernelMemory.within(memory, 0, 0) });
    return;
  }
  const { job, scratch, from, until, places } = message;
  new Task(places).perform(() => runRange(engine().kernels, job, scratch, from, until));
}

export interface PoolOptions {
  /** Called when there is work that helpers could share. */
  readonly wanted?: () => void;
  /** Elements from which work is shared out. */
  readonly sharedFrom?: number;
}

/** Helpers that are ready. */
export class HelperPool {
  private readonly free: Helper[] = [];
  private readonly wanted: () => void;
  private readonly sharedFrom: number;

  constructor({ wanted = () => undefined, sharedFrom = SHARED_FROM }: PoolOptions = {}) {
    this.wanted = wanted;
    this.sharedFrom = sharedFrom;
  }

  add(helper: Helper): void {
    helper.postMessage({ memory: engine().memory.memory } satisfies HelperMessage);
    this.free.push(helper);
  }

  /** Threads for so many elements, this one included. */
  threadsFor(count: number): number {
    if (count < this.sharedFrom) return 1;
    this.wanted();
    return 1 + this.free.length;
  }

  /** A helper for a task of its own, until it is given back; null when none is free. */
  lend(): Helper | null {
    this.wanted();
    return this.free.pop() ?? null;
  }

  giveBack(helper: Helper): void {
    this.free.push(helper);
  }

  /** Runs all ranges, the last of them here. Returns the sum of what the ranges return. */
  run(job: RangeJob, scratches: readonly number[], ranges: readonly (readonly [number, number])[]): number {
    const { kernels } = engine();
    const last = ranges.length - 1;
    const sent = ranges.slice(0, last).map(([from, until], i) => {
      const task = new Task();
      const helper = this.free[i];
      const { places } = task;
      helper.postMessage({ job, scratch: scratches[i], from, until, places } satisfies HelperMessage);
      return { task, from, until, helper, scratch: scratches[i] };
    });
    try {
      let total = runRange(kernels, job, scratches[last], ...ranges[last]);
      for (const { task, from, until, helper, scratch } of sent) {
        const answered = task.wait();
        if (!answered) this.giveUp(helper);
        // What a helper could not do is done here: a thread that died costs time, not the result.
        total += (answered ? task.result : null) ?? runRange(kernels, job, scratch, from, until);
      }
      return total;
    } finally {
      // None may write any more when this returns: its scratch and its targets are given to others afterwards.
      for (const { task } of sent) task.stop();
      for (const { task, helper } of sent)
        if (this.free.includes(helper) && !task.wait()) this.giveUp(helper);
    }
  }

  private giveUp(helper: Helper): void {
    this.free.splice(this.free.indexOf(helper), 1);
    helper.terminate();
  }
}

let pool: HelperPool | null = null;

/** The helpers of this thread. */
export const helpers = (): HelperPool | null => pool;

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
 * @param each how much work one is, against that of an element
 * @returns the sum of what counted calls return
 */
export function runJob(
  job: RangeJob,
  count: number,
  finish?: (scratches: readonly number[]) => void,
  each = 1,
): number {
  const threads = pool && canCross(job) ? pool.threadsFor(count * each) : 1;
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
