/** Kernels over whole columns, block by block: lanes are copied in, the result is copied out. */
import { tick } from "../cancelling";
import { kernels } from "./kernels";

/** Elements per block: what a kernel reads and writes still fits the cache. */
const BLOCK = 1024;

/** A column's lane, or the number that all elements have. */
export type LaneOrNumber = ArrayLike<number> | number;

/**
 * Runs a kernel that takes planar lanes and writes interleaved numbers, all of `result`.
 * @param width numbers an element; `result` has count × width
 */
export function interleave<T extends Float32Array>(
  name: string,
  lanes: readonly LaneOrNumber[],
  width: number,
  result: T,
): T {
  const count = result.length / width;
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

/**
 * Bounds of copies of a box (its middle and half extents), placed by matrices of 16 numbers each.
 * @returns least x, y, z and greatest x, y, z; infinite when there are no copies
 */
export function placedBox(
  matrices: Float32Array,
  middle: readonly number[],
  half: readonly number[],
): { min: [number, number, number]; max: [number, number, number] } {
  const engine = kernels();
  return engine.scoped(() => {
    const kernel = engine.kernel("placedBounds");
    const from = engine.reserve(BLOCK * 16);
    const out = engine.place([Infinity, Infinity, Infinity, 0, -Infinity, -Infinity, -Infinity, 0]);
    const { floats } = engine;
    for (let start = 0; start < matrices.length; start += BLOCK * 16) {
      const block = matrices.subarray(start, start + BLOCK * 16);
      tick(block.length / 16);
      floats.set(block, from >> 2);
      kernel(block.length / 16, out, from, ...middle, ...half);
    }
    const [x0, y0, z0, , x1, y1, z1] = floats.subarray(out >> 2, (out >> 2) + 8);
    return { min: [x0, y0, z0], max: [x1, y1, z1] };
  });
}

const part = (lane: ArrayLike<number>, start: number, length: number): ArrayLike<number> =>
  (lane as Float32Array).subarray(start, start + length);
