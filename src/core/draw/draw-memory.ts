/** Where the arrays that a drawing consists of come from. */
import { addressOf } from "../kernels/arena";
import { engine } from "../kernels/kernels";

export interface DrawArrays {
  /** An array of so many numbers, holding anything. */
  take(length: number): Float32Array;
  /** For arrays that are not wanted any more. */
  give(array: Float32Array): void;
}

/** Ordinary arrays: for files and one-off uses. */
export const ORDINARY: DrawArrays = {
  take: (length) => new Float32Array(length),
  give: () => undefined,
};

let taken = 0;

/** Bytes of all drawings in the kernels' memory. */
export const drawnBytes = (): number => taken;

/** Arrays in the kernels' memory: composed where they are shown from, and taken again by the next frame. */
export const IN_MEMORY: DrawArrays = {
  take(length) {
    const { memory } = engine();
    const address = memory.allocate(length * 4);
    taken += memory.sizeOf(address);
    return new Float32Array(memory.memory.buffer, address, length);
  },
  give(array) {
    const address = addressOf(array);
    if (address === null) return;
    taken -= engine().memory.sizeOf(address);
    engine().memory.release(address);
  },
};
