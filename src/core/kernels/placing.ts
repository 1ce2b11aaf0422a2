/** Placements to what a renderer takes: matrices, colours and bounds of whole columns. */
import { type KernelCall, type Operand, ownAt } from "./job";
import { type LaneOrNumber, Plan } from "./plan";

export interface Box {
  readonly min: readonly [number, number, number];
  readonly max: readonly [number, number, number];
}

/** A box as its middle and half extents. */
export interface Extent {
  readonly middle: readonly number[];
  readonly half: readonly number[];
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
  const box = plan.extremes();
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
  const box = plan.extremes();
  plan.calls.push(boundsCall(from, box, own));
  return boxOf(plan, matrices.length / 16, box);
}

const boundsCall = (matrices: Operand, box: number, { middle, half }: Extent): KernelCall => ({
  kernel: "placedBounds",
  operands: [ownAt(box), matrices],
  numbers: [...middle, ...half],
});

/** Runs the plan and gives what it found at `box`. */
function boxOf(plan: Plan, count: number, box: number): Box {
  const { least, greatest } = plan.runForExtremes(count, box);
  return { min: [least[0], least[1], least[2]], max: [greatest[0], greatest[1], greatest[2]] };
}
