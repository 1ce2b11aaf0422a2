/** Numbers kept by edge, in tables made once: a map that grows would stop everything while it does. */
import { tick } from "../cancelling";

/** One number for an edge, whichever way it is walked; exact for up to 2^26 points. */
export const edgeKey = (a: number, b: number): number => Math.min(a, b) * 2 ** 26 + Math.max(a, b);

const EMPTY = -1;

export class EdgeTable {
  private readonly keys: Float64Array;
  private readonly values: Int32Array;
  private readonly mask: number;

  /** @param most edges at most */
  constructor(most: number) {
    const size = 2 ** Math.max(4, 32 - Math.clz32(most * 1.6));
    this.mask = size - 1;
    this.keys = new Float64Array(size).fill(EMPTY);
    this.values = new Int32Array(size);
  }

  /** The number kept for the edge, or −1 after keeping `value` for it. */
  keep(a: number, b: number, value: number): number {
    tick(2);
    const key = edgeKey(a, b);
    let at = (Math.imul(a ^ b, 0x9e3779b1) ^ Math.imul(a + b, 0x85ebca6b)) & this.mask;
    while (this.keys[at] !== EMPTY && this.keys[at] !== key) at = (at + 1) & this.mask;
    if (this.keys[at] === key) return this.values[at];
    this.keys[at] = key;
    this.values[at] = value;
    return -1;
  }
}
