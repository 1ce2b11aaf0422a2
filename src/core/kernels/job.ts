/**
 * Kernel calls over a range of elements, block by block: what a single thread runs. Plain data, so that it can be
 * sent to another thread, which works in the same memory.
 */
import { tick } from "../cancelling";
import type { Kernels } from "./kernels";

/** Elements per block: registers of a long program still fit the cache. */
export const BLOCK = 1024;

/** A place that a kernel reads or writes. */
export interface Operand {
  /** Byte address; from the start of the range's own scratch when `own`. */
  readonly at: number;
  readonly own: boolean;
  /** Bytes from one element to the next block's: 4 for a lane, 0 for a register that every block uses again. */
  readonly stride: number;
}

/** A lane that all elements of the domain have. */
export const laneAt = (address: number, stride = 4): Operand => ({ at: address, own: false, stride });
/** The number of the element that a block begins with, given to the kernel in place of an address. */
export const FIRST_ELEMENT: Operand = { at: 0, own: false, stride: 1 };
/** The same place for every block and every range. */
export const fixedAt = (address: number): Operand => ({ at: address, own: false, stride: 0 });
/** A place in the range's own scratch. */
export const ownAt = (offset: number): Operand => ({ at: offset, own: true, stride: 0 });

export interface KernelCall {
  readonly kernel: string;
  /** After the count. */
  readonly operands: readonly Operand[];
  /** After the operands. */
  readonly numbers: readonly number[];
  /** What the kernel returns is added up. */
  readonly counted?: boolean;
}

/** An operation without a kernel. Cannot be sent to another thread. */
export interface ScriptCall {
  readonly run: (floats: Float32Array, addresses: readonly number[], count: number) => void;
  readonly operands: readonly Operand[];
}

export interface RangeJob {
  /** Bytes of scratch that each range needs. */
  readonly scratch: number;
  /** Registers with one number for all elements, filled once a range: BLOCK of it, or as many as `length`. */
  readonly fills: readonly { readonly to: number; readonly value: number; readonly length?: number }[];
  /** Ordinary arrays that are copied into registers block by block … */
  readonly bring: readonly {
    readonly from: ArrayLike<number>;
    readonly to: number;
    readonly width?: number;
  }[];
  readonly calls: readonly (KernelCall | ScriptCall)[];
  /** … and registers that are copied out. */
  readonly take: readonly { readonly from: number; readonly to: Float32Array; readonly width: number }[];
}

const subarray = (lane: ArrayLike<number>, from: number, until: number): ArrayLike<number> =>
  (lane as Float32Array).subarray(from, until);

/**
 * Runs elements `from` … `until` − 1; `from` is a multiple of BLOCK.
 * @param scratch address of the range's own `job.scratch` bytes
 * @returns the sum of what counted calls return
 */
export function runRange(
  kernels: Kernels,
  job: RangeJob,
  scratch: number,
  from: number,
  until: number,
): number {
  const { floats } = kernels;
  const register = (offset: number) => (scratch + offset) / 4;
  for (const { to, value, length = BLOCK } of job.fills)
    floats.fill(value, register(to), register(to) + length);
  const calls = job.calls.map((call) => boundCall(kernels, call, scratch, from));
  let counted = 0;
  for (let start = from; start < until; start += BLOCK) {
    tick(BLOCK * calls.length);
    const count = Math.min(BLOCK, until - start);
    for (const { from: lane, to, width = 1 } of job.bring)
      floats.set(subarray(lane, start * width, (start + count) * width), register(to));
    for (const call of calls) counted += call(count);
    for (const lane of job.take) {
      const at = register(lane.from);
      lane.to.set(floats.subarray(at, at + count * lane.width), start * lane.width);
    }
  }
  return counted;
}

/** Runs one call on the next block each time. */
function boundCall(
  kernels: Kernels,
  call: KernelCall | ScriptCall,
  scratch: number,
  from: number,
): (count: number) => number {
  const addresses = call.operands.map(({ at, own, stride }) => (own ? scratch + at : at + from * stride));
  if ("run" in call) {
    return (count) => {
      call.run(kernels.floats, addresses, count);
      call.operands.forEach(({ stride }, i) => {
        addresses[i] += stride * BLOCK;
      });
      return 0;
    };
  }
  const kernel = kernels.kernel(call.kernel);
  // One list for all blocks: making one for each would cost as much as a short kernel.
  const list = [0, ...addresses, ...call.numbers];
  const moving = call.operands.flatMap(({ stride }, i) => (stride > 0 ? [i + 1] : []));
  const steps = moving.map((i) => call.operands[i - 1].stride * BLOCK);
  const { counted = false } = call;
  return (count) => {
    list[0] = count;
    const result = kernel.apply(null, list) ?? 0;
    for (let k = 0; k < moving.length; k++) list[moving[k]] += steps[k];
    return counted ? result : 0;
  };
}
