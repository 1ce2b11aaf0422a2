/** The order of numbers, for tables and shares of a range: a radix sort over their bits (Knuth, TAOCP 3, §5.2.5). */

const BITS = 11;
const BUCKETS = 1 << BITS;

/**
 * Indices of `lane` from the least number to the greatest; equal ones keep their order. Numbers that are none come last.
 * @param among indices to put in order, all when missing
 */
export function ascendingOrder(lane: Float32Array | Int32Array, among?: Int32Array): Int32Array {
  const count = among?.length ?? lane.length;
  let order = among ? Int32Array.from(among) : Int32Array.from({ length: count }, (_, i) => i);
  let next = new Int32Array(count);
  const keys = keysOf(lane);
  const starts = new Uint32Array(BUCKETS + 1);
  for (let shift = 0; shift < 32; shift += BITS) {
    starts.fill(0);
    for (let i = 0; i < count; i++) starts[((keys[order[i]] >>> shift) & (BUCKETS - 1)) + 1]++;
    for (let b = 0; b < BUCKETS; b++) starts[b + 1] += starts[b];
    for (let i = 0; i < count; i++) {
      const index = order[i];
      next[starts[(keys[index] >>> shift) & (BUCKETS - 1)]++] = index;
    }
    [order, next] = [next, order];
  }
  return order;
}

/** Unsigned numbers in the same order: for floats (IEEE 754) the sign is turned, and all bits of negative ones. */
function keysOf(lane: Float32Array | Int32Array): Uint32Array {
  const keys = new Uint32Array(lane.length);
  if (lane instanceof Int32Array) {
    for (let i = 0; i < keys.length; i++) keys[i] = lane[i] ^ 0x80000000;
    return keys;
  }
  const bits = new Int32Array(lane.buffer, lane.byteOffset, lane.length);
  for (let i = 0; i < keys.length; i++) {
    // −0 is 0, and what is not a number is greater than all that are.
    if (Number.isNaN(lane[i])) keys[i] = 0xffffffff;
    else if (lane[i] === 0) keys[i] = 0x80000000;
    else keys[i] = bits[i] < 0 ? ~bits[i] : bits[i] ^ 0x80000000;
  }
  return keys;
}

/**
 * The number below which a part (0…1) of ordered numbers lies, between neighbours in proportion: the definition R 7 of
 * Hyndman and Fan, Sample quantiles in statistical packages (The American Statistician 50, 1996).
 */
export function quantile(lane: ArrayLike<number>, order: Int32Array, part: number): number {
  const at = part * (order.length - 1);
  const below = Math.floor(at);
  const low = lane[order[below]];
  return low + (lane[order[Math.min(order.length - 1, below + 1)]] - low) * (at - below);
}
