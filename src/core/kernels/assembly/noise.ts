/**
 * Random numbers and gradient noise, four elements at a time; formulas and sources as in the slow reference of the
 * tests: MurmurHash3's finaliser, K. Perlin's improved noise (2002) over an integer-hashed lattice.
 */

const ONE = f32x4.splat(1);

@inline
function mixed(value: v128): v128 {
  let h = v128.xor(value, i32x4.shr_u(value, 16));
  h = i32x4.mul(h, i32x4.splat(0x85ebca6b));
  h = v128.xor(h, i32x4.shr_u(h, 13));
  h = i32x4.mul(h, i32x4.splat(0xc2b2ae35));
  return v128.xor(h, i32x4.shr_u(h, 16));
}

@inline
function mixedOne(value: i32): i32 {
  let h = value ^ (value >>> 16);
  h *= 0x85ebca6b;
  h ^= h >>> 13;
  h *= 0xc2b2ae35;
  return h ^ (h >>> 16);
}

const GOLDEN: i32 = 0x9e3779b9;

/** 0 ≤ result < 1, 24 bits, from the element's id. */
export function random(n: i32, out: usize, id: usize, seed: i32, channel: i32): void {
  const base = i32x4.splat(mixedOne(seed ^ GOLDEN));
  const last = i32x4.splat((channel + 1) * 0x85ebca6b);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const number = i32x4.trunc_sat_f32x4_s(v128.load(id + i));
    const own = mixed(i32x4.add(base, i32x4.mul(number, i32x4.splat(GOLDEN))));
    const bits = i32x4.shr_u(mixed(v128.xor(own, last)), 8);
    v128.store(out + i, f32x4.mul(f32x4.convert_i32x4_s(bits), f32x4.splat(5.9604644775390625e-8)));
  }
}

/** 6t⁵ − 15t⁴ + 10t³. */
@inline
function fade(t: v128): v128 {
  const inner = f32x4.add(f32x4.mul(t, f32x4.sub(f32x4.mul(t, f32x4.splat(6)), f32x4.splat(15))), f32x4.splat(10));
  return f32x4.mul(f32x4.mul(f32x4.mul(t, t), t), inner);
}

/**
 * Dot product of (x, y, z, w) with the gradient that hash `h` picks: one of Perlin's twelve edges by the low four
 * bits (u from x or y, v from y, z or x, each with a sign), and ±1 along w by the fifth.
 */
@inline
function edge(h: v128, x: v128, y: v128, z: v128, w: v128): v128 {
  const low = v128.and(h, i32x4.splat(15));
  const u = v128.bitselect(x, y, i32x4.lt_s(low, i32x4.splat(8)));
  const isX = i32x4.eq(v128.and(low, i32x4.splat(13)), i32x4.splat(12));
  const v = v128.bitselect(y, v128.bitselect(x, z, isX), i32x4.lt_s(low, i32x4.splat(4)));
  const signed = f32x4.add(v128.xor(u, i32x4.shl(h, 31)), v128.xor(v, i32x4.shl(v128.and(h, i32x4.splat(2)), 30)));
  return f32x4.add(signed, v128.xor(w, i32x4.shl(v128.and(h, i32x4.splat(16)), 27)));
}

/** One lattice of gradient noise; `w` is the distance from it along the fourth axis. */
@inline
function lattice(x: v128, y: v128, z: v128, w: v128, seed: i32): v128 {
  const fx = f32x4.floor(x);
  const fy = f32x4.floor(y);
  const fz = f32x4.floor(z);
  const ix = i32x4.trunc_sat_f32x4_s(fx);
  const iy = i32x4.trunc_sat_f32x4_s(fy);
  const iz = i32x4.trunc_sat_f32x4_s(fz);
  const ax = f32x4.sub(x, fx);
  const ay = f32x4.sub(y, fy);
  const az = f32x4.sub(z, fz);
  const bx = f32x4.sub(ax, ONE);
  const by = f32x4.sub(ay, ONE);
  const bz = f32x4.sub(az, ONE);
  const one = i32x4.splat(1);
  const base = i32x4.splat(mixedOne(seed));
  const x0 = i32x4.mul(ix, i32x4.splat(0x27d4eb2f));
  const x1 = i32x4.mul(i32x4.add(ix, one), i32x4.splat(0x27d4eb2f));
  const y0 = i32x4.mul(iy, i32x4.splat(0x165667b1));
  const y1 = i32x4.mul(i32x4.add(iy, one), i32x4.splat(0x165667b1));
  const z0 = v128.xor(i32x4.mul(iz, i32x4.splat(0x1b873593)), base);
  const z1 = v128.xor(i32x4.mul(i32x4.add(iz, one), i32x4.splat(0x1b873593)), base);
  const xy00 = v128.xor(x0, y0);
  const xy10 = v128.xor(x1, y0);
  const xy01 = v128.xor(x0, y1);
  const xy11 = v128.xor(x1, y1);
  const u = fade(ax);
  const v = fade(ay);
  const t = fade(az);
  const c000 = edge(mixed(v128.xor(xy00, z0)), ax, ay, az, w);
  const c100 = edge(mixed(v128.xor(xy10, z0)), bx, ay, az, w);
  const c010 = edge(mixed(v128.xor(xy01, z0)), ax, by, az, w);
  const c110 = edge(mixed(v128.xor(xy11, z0)), bx, by, az, w);
  const c00 = f32x4.add(c000, f32x4.mul(u, f32x4.sub(c100, c000)));
  const c10 = f32x4.add(c010, f32x4.mul(u, f32x4.sub(c110, c010)));
  const low = f32x4.add(c00, f32x4.mul(v, f32x4.sub(c10, c00)));
  const c001 = edge(mixed(v128.xor(xy00, z1)), ax, ay, bz, w);
  const c101 = edge(mixed(v128.xor(xy10, z1)), bx, ay, bz, w);
  const c011 = edge(mixed(v128.xor(xy01, z1)), ax, by, bz, w);
  const c111 = edge(mixed(v128.xor(xy11, z1)), bx, by, bz, w);
  const c01 = f32x4.add(c001, f32x4.mul(u, f32x4.sub(c101, c001)));
  const c11 = f32x4.add(c011, f32x4.mul(u, f32x4.sub(c111, c011)));
  const high = f32x4.add(c01, f32x4.mul(v, f32x4.sub(c11, c01)));
  return f32x4.add(low, f32x4.mul(t, f32x4.sub(high, low)));
}

/** Adds one octave: amplitude × noise at frequency × place, between lattices `before` and `after` at time part t. */
export function noiseOctave(
  n: i32,
  out: usize,
  x: usize,
  y: usize,
  z: usize,
  frequency: f32,
  amplitude: f32,
  t: f32,
  before: i32,
  after: i32,
): void {
  const f = f32x4.splat(frequency);
  const strength = f32x4.splat(amplitude);
  const w0 = f32x4.splat(t);
  const w1 = f32x4.splat(t - 1);
  const blend = fade(w0);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const px = f32x4.mul(v128.load(x + i), f);
    const py = f32x4.mul(v128.load(y + i), f);
    const pz = f32x4.mul(v128.load(z + i), f);
    let value = lattice(px, py, pz, w0, before);
    if (t != 0) value = f32x4.add(value, f32x4.mul(blend, f32x4.sub(lattice(px, py, pz, w1, after), value)));
    v128.store(out + i, f32x4.add(v128.load(out + i), f32x4.mul(strength, value)));
  }
}
