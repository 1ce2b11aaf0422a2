/** Integer hashes, four at a time: MurmurHash3's finaliser (A. Appleby, 2011) and what is counted from it. */

@inline
export function mixed(value: v128): v128 {
  let h = v128.xor(value, i32x4.shr_u(value, 16));
  h = i32x4.mul(h, i32x4.splat(0x85ebca6b));
  h = v128.xor(h, i32x4.shr_u(h, 13));
  h = i32x4.mul(h, i32x4.splat(0xc2b2ae35));
  return v128.xor(h, i32x4.shr_u(h, 16));
}

@inline
export function mixedOne(value: i32): i32 {
  let h = value ^ (value >>> 16);
  h *= 0x85ebca6b;
  h ^= h >>> 13;
  h *= 0xc2b2ae35;
  return h ^ (h >>> 16);
}

/** Lattice numbers along three axes are spread by these odd multipliers before they are joined. */
export const SPREAD_X: i32 = 0x27d4eb2f;
export const SPREAD_Y: i32 = 0x165667b1;
export const SPREAD_Z: i32 = 0x1b873593;

const GOLDEN: i32 = 0x9e3779b9;

/** 0 ≤ result < 1, 24 bits, of the upper bits of a hash. */
@inline
export function unit(hash: v128): v128 {
  return f32x4.mul(f32x4.convert_i32x4_s(i32x4.shr_u(hash, 8)), f32x4.splat(5.9604644775390625e-8));
}

/** 0 ≤ result < 1, 24 bits, from the element's id, an integer: float32 could not tell large ones apart. */
export function random(n: i32, out: usize, id: usize, seed: i32, channel: i32): void {
  const base = i32x4.splat(mixedOne(seed ^ GOLDEN));
  const last = i32x4.splat((channel + 1) * 0x85ebca6b);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const number = v128.load(id + i);
    const own = mixed(i32x4.add(base, i32x4.mul(number, i32x4.splat(GOLDEN))));
    v128.store(out + i, unit(mixed(v128.xor(own, last))));
  }
}
