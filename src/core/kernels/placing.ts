/** Placements to what a renderer takes: matrices, colours and bounds of whole columns. */
import { addressOf } from "./arena";
import { runJob } from "./helpers";
import { BLOCK, type KernelCall, laneAt, type Operand, ownAt, type RangeJob } from "./job";
import { engine } from "./kernels";

/** A column's lane, or the number that all elements have. */
export type LaneOrNumber = ArrayLike<number> | number;

export interface Box {
  readonly min: readonly [number, number, number];
  readonly max: readonly [number, number, number];
}

/** A box as its middle and half extents. */
export interface Extent {
  readonly middle: readonly number[];
  readonly half: readonly number[];
}

const REGISTER = BLOCK * 4;
/** Least x y z and greatest x y z, each padded to four. */
const BOX_BYTES = 32;

/** A job under construction: places in the range's scratch are handed out one after the other. */
class Plan {
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
    const address = typeof lane === "number" ? null : addressOf(lane);
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

  /** Room for a box that grows block by block. */
  box(): number {
    const at = this.own(BOX_BYTES);
    this.fills.push({ to: at, value: Number.POSITIVE_INFINITY, length: 4 });
    this.fills.push({ to: at + BOX_BYTES / 2, value: Number.NEGATIVE_INFINITY, length: 4 });
    return at;
  }

  bringIn(from: Float32Array, to: Operand, width: number): void {
    if (to.own) this.bring.push({ from, to: to.at, width });
  }

  takeOut(from: Operand, to: Float32Array, width: number): void {
    if (from.own) this.take.push({ from: from.at, to, width });
  }

  run(count: number, finish?: (scratches: readonly number[]) => void): void {
    const { scratch, fills, bring, take, calls } = this;
    runJob({ scratch, fills, bring, take, calls }, count, finish);
  }
}

/**
 * Runs a kernel that takes planar lanes and writes interleaved numbers, all of `result`.
 * @param width numbers an element; `result` has count × width
 */
export function interleave<T extends Float32Array>(
  kernel: string,
  lanes: readonly LaneOrNumber[],
  width: number,
  result: T,
): T {
  const plan = new Plan();
  const out = plan.interleaved(result, width);
  plan.calls.push({ kernel, operands: [out, ...lanes.map((lane) => plan.read(lane))], numbers: [] });
  plan.takeOut(out, result, width);
  plan.run(result.length / width);
  return result;
}

/**
 * T·R·S of every element, column-major, and the bounds of a box that stands on each.
 * @param lanes position x y z, rotation x y z w, scale x y z
 * @param matrices 16 numbers an element, written
 */
export function placeBoxes(lanes: readonly LaneOrNumber[], matrices: Float32Array, own: Extent): Box {
  const plan = new Plan();
  const out = plan.interleaved(matrices, 16);
  const box = plan.box();
  plan.calls.push(
    { kernel: "composeMatrices", operands: [out, ...lanes.map((lane) => plan.read(lane))], numbers: [] },
    boundsCall(out, box, own),
  );
  plan.takeOut(out, matrices, 16);
  return boxOf(plan, matrices.length / 16, box);
}

/**
 * Bounds of copies of a box, placed by matrices of 16 numbers each.
 * @returns infinite bounds when there are no copies
 */
export function placedBox(matrices: Float32Array, own: Extent): Box {
  const plan = new Plan();
  const from = plan.interleaved(matrices, 16);
  plan.bringIn(matrices, from, 16);
  const box = plan.box();
  plan.calls.push(boundsCall(from, box, own));
  return boxOf(plan, matrices.length / 16, box);
}

const boundsCall = (matrices: Operand, box: number, { middle, half }: Extent): KernelCall => ({
  kernel: "placedBounds",
  operands: [ownAt(box), matrices],
  numbers: [...middle, ...half],
});

/** Runs the plan and joins what each range found at `box` in its scratch. */
function boxOf(plan: Plan, count: number, box: number): Box {
  const min: [number, number, number] = [
    Number.POSITIVE_INFINITY,
    Number.POSITIVE_INFINITY,
    Number.POSITIVE_INFINITY,
  ];
  const max: [number, number, number] = [
    Number.NEGATIVE_INFINITY,
    Number.NEGATIVE_INFINITY,
    Number.NEGATIVE_INFINITY,
  ];
  plan.run(count, (scratches) => {
    const { floats } = engine().kernels;
    for (const scratch of scratches) {
      const at = (scratch + box) / 4;
      for (let axis = 0; axis < 3; axis++) {
        min[axis] = Math.min(min[axis], floats[at + axis]);
        max[axis] = Math.max(max[axis], floats[at + 4 + axis]);
      }
    }
  });
  return { min, max };
}
