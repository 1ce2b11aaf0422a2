/**
 * Counter-based random numbers: a value depends only on (seed, id, channel), so an element keeps its
 * values when others come and go, and any number of threads may ask in any order.
 */

/** MurmurHash3 32-bit finaliser (A. Appleby, 2011). Returns an unsigned 32-bit integer. */
export const mix32 = (value: number): number => mixSigned(value) >>> 0;

/** `mix32` as a signed integer, which hot loops keep in a machine register. */
export function mixSigned(value: number): number {
  let h = value | 0;
  h ^= h >>> 16;
  h = Math.imul(h, 0x85ebca6b);
  h ^= h >>> 13;
  h = Math.imul(h, 0xc2b2ae35);
  return h ^ (h >>> 16);
}

/** An odd constant (2^32 divided by the golden ratio) keeps (0, 0, 0) away from the finaliser's fixed point 0. */
const GOLDEN = 0x9e3779b9;

/** Hash of three 32-bit integers. Returns an unsigned 32-bit integer. */
export function hash3(seed: number, id: number, channel: number): number {
  return mix32(mix32(mix32(seed ^ GOLDEN) + Math.imul(id, GOLDEN)) ^ Math.imul(channel + 1, 0x85ebca6b));
}

/** The top 24 bits as a number in [0, 1), exact in float32, so that 1 is never reached. */
export function unit24(hash: number): number {
  return (hash >>> 8) * 2 ** -24;
}
