/** Kernels over whole lanes, wherever those stand: what they read and write is brought and taken as it must be. */
import { addressOf } from "./arena";
import { runJob } from "./helpers";
import { BLOCK, type KernelCall, laneAt, type Operand, ownAt, type RangeJob } from "./job";
import { engine } from "./kernels";

/** A column's lane, or the number that all elements have. */
export type LaneOrNumber = ArrayLike<number> | number;

const REGISTER = BLOCK * 4;
/** Bytes of four numbers. */
const FOUR = 16;

/** A job under construction: places in the range's scratch are handed out one after the other. */
export class Plan {
  private scratch = 0;
  private readonly fills: RangeJob["fills"][number][] = [];
  private readonly bring: RangeJob["bring"][number][] = [];
  private readonly take: RangeJob["take"][number][] = [];
  readonly calls: KernelCall[] = [];

  own(bytes: number): number {
    const at = this.scratch;
    this.scratch += bytes;
    return at;
  }

  /** Where a kernel reads a lane or a number. */
  read(lane: LaneOrNumber): Operand {
    const address = lane instanceof Float32Array ? addressOf(lane) : null;
    if (address !== null) return laneAt(address);
    const to = this.own(REGISTER);
    if (typeof lane === "number") this.fills.push({ to, value: lane });
    else this.bring.push({ from: lane, to });
    return ownAt(to);
  }

  /** Where a kernel writes (or reads) `width` numbers an element. */
  interleaved(lane: Float32Array, width: number): Operand {
    const address = addressOf(lane);
    return address === null ? ownAt(this.own(REGISTER * width)) : laneAt(address, 4 * width);
  }

  /** Room for four least and four greatest numbers, which kernels widen block by block. */
  extremes(): number {
    const at = this.own(2 * FOUR);
    this.fills.push({ to: at, value: Number.POSITIVE_INFINITY, length: 4 });
    this.fills.push({ to: at + FOUR, value: Number.NEGATIVE_INFINITY, length: 4 });
    return at;
  }

  /** Room for so many counts, at 0: as bits that is a float's 0 too. */
  counts(length: number): number {
    const at = this.own(length * 4);
    this.fills.push({ to: at, value: 0, length });
    return at;
  }

  bringIn(from: Float32Array, to: Operand, width: number): void {
    if (to.own) this.bring.push({ from, to: to.at, width });
  }

  takeOut(from: Operand, to: Float32Array, width: number): void {
    if (from.own) this.take.push({ from: from.at, to, width });
  }

  /** @param each how much work one is, against that of an element @returns the sum of what counted calls return */
  run(count: number, finish?: (scratches: readonly number[]) => void, each = 1): number {
    const { scratch, fills, bring, take, calls } = this;
    return runJob({ scratch, fills, bring, take, calls }, count, finish, each);
  }

  /** Runs, and joins what each range found in its room for extremes. */
  runForExtremes(count: number, at: number): { least: number[]; greatest: number[] } {
    const least = new Array<number>(4).fill(Number.POSITIVE_INFINITY);
    const greatest = new Array<number>(4).fill(Number.NEGATIVE_INFINITY);
    this.run(count, (scratches) => {
      const { floats } = engine().kernels;
      for (const scratch of scratches) {
        const found = (scratch + at) / 4;
        for (let i = 0; i < 4; i++) {
          least[i] = Math.min(least[i], floats[found + i]);
          greatest[i] = Math.max(greatest[i], floats[found + 4 + i]);
        }
      }
    });
    return { least, greatest };
  }

  /** Runs, and adds up what each range counted. */
  runForCounts(count: number, at: number, length: number): number[] {
    const sums = new Array<number>(length).fill(0);
    this.run(count, (scratches) => {
      for (const scratch of scratches) {
        const counted = new Int32Array(engine().memory.memory.buffer, scratch + at, length);
        for (let i = 0; i < length; i++) sums[i] += counted[i];
      }
    });
    return sums;
  }
}
