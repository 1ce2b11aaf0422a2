/** Kernels over whole columns, block by block: lanes are copied in, the result is copied out. */
import { tick } from "../cancelling";
import { kernels } from "./kernels";

/** Elements per block: what a kernel reads and writes still fits the cache. */
const BLOCK = 1024;

/** A column's lane, or the number that all elements have. */
export type LaneOrNumber = ArrayLike<number> | number;

/**
 * Runs a kernel that takes planar lanes and writes `width` interleaved numbers an element.
 * @returns count × width numbers
 */
export function interleaved(
  name: string,
  lanes: readonly LaneOrNumber[],
  count: number,
  width: number,
): Float32Array {
  const result = new Float32Array(count * width);
  const engine = kernels();
  engine.scoped(() => {
    const kernel = engine.kernel(name);
    const addresses = lanes.map(() => engine.reserve(BLOCK));
    const out = engine.reserve(BLOCK * width);
    const { floats } = engine;
    lanes.forEach((lane, l) => {
      if (typeof lane === "number") floats.fill(lane, addresses[l] >> 2, (addresses[l] >> 2) + BLOCK);
    });
    for (let start = 0; start < count; start += BLOCK) {
      const length = Math.min(BLOCK, count - start);
      tick(length);
      lanes.forEach((lane, l) => {
        if (typeof lane !== "number") floats.set(part(lane, start, length), addresses[l] >> 2);
      });
      kernel(length, out, ...addresses);
      result.set(floats.subarray(out >> 2, (out >> 2) + length * width), start * width);
    }
  });
  return result;
}

const part = (lane: ArrayLike<number>, start: number, length: number): ArrayLike<number> =>
  (lane as Float32Array).subarray(start, start + length);
