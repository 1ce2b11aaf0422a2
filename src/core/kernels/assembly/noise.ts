/**
 * Gradient noise, four places at a time; formulas and sources as in the slow reference of the tests: K. Perlin's
 * improved noise (2002) over a lattice hashed with integers.
 */
import { between } from "./between";
import { mixedOne, SPREAD_X, SPREAD_Y, SPREAD_Z } from "./hashing";

const ONE = f32x4.splat(1);

/** 6t⁵ − 15t⁴ + 10t³. */
@inline
export function fade(t: v128): v128 {
  const inner = f32x4.add(f32x4.mul(t, f32x4.sub(f32x4.mul(t, f32x4.splat(6)), f32x4.splat(15))), f32x4.splat(10));
  return f32x4.mul(f32x4.mul(f32x4.mul(t, t), t), inner);
}

/**
 * One axis' part of a corner's hash. Shifting and joining by exclusive or may trade places, so what the hash of a corner
 * begins with is done once for each plane that it lies on.
 */
@inline
export function partOf(spread: v128): v128 {
  return v128.xor(spread, i32x4.shr_u(spread, 15));
}

/** Hash of a corner from its joined parts: one multiplication; its upper bits are the well mixed ones. */
@inline
export function cornerHash(parts: v128): v128 {
  return i32x4.mul(parts, i32x4.splat(0x2c1b3c6d));
}

/**
 * Components of Perlin's sixteen gradients (twelve edges, four of them twice), doubled: ±2 is a float whose upper
 * byte alone is not 0, so that looking up four bytes gives four floats.
 */
const GRADIENT_X = i8x16(64, -64, 64, -64, 64, -64, 64, -64, 0, 0, 0, 0, 64, 0, -64, 0);
const GRADIENT_Y = i8x16(64, 64, -64, -64, 0, 0, 0, 0, 64, -64, 64, -64, 64, -64, 64, -64);
const GRADIENT_Z = i8x16(0, 0, 0, 0, 64, 64, -64, -64, 64, 64, -64, -64, 0, 64, 0, -64);

/** Which gradient a hash picks, in the upper byte of each lane; the others ask for 0. */
@inline
export function choiceOf(hash: v128): v128 {
  return v128.or(i32x4.shr_u(hash, 4), i32x4.splat(0x00808080));
}

@inline
export function gradientX(choice: v128): v128 {
  return v128.swizzle(GRADIENT_X, choice);
}

@inline
export function gradientY(choice: v128): v128 {
  return v128.swizzle(GRADIENT_Y, choice);
}

@inline
export function gradientZ(choice: v128): v128 {
  return v128.swizzle(GRADIENT_Z, choice);
}

/** Twice the dot product of (x, y, z) with the gradient that the hash of a corner picks. */
@inline
function edge(parts: v128, x: v128, y: v128, z: v128): v128 {
  const choice = choiceOf(cornerHash(parts));
  const xy = f32x4.add(f32x4.mul(gradientX(choice), x), f32x4.mul(gradientY(choice), y));
  return f32x4.add(xy, f32x4.mul(gradientZ(choice), z));
}

/** The same with a fourth component, doubled too, that is added or taken off by the hash's fifth bit from above. */
@inline
function edgeInTime(parts: v128, x: v128, y: v128, z: v128, w: v128): v128 {
  const hash = cornerHash(parts);
  const choice = choiceOf(hash);
  const xy = f32x4.add(f32x4.mul(gradientX(choice), x), f32x4.mul(gradientY(choice), y));
  const zw = f32x4.add(f32x4.mul(gradientZ(choice), z), v128.xor(w, sign(hash)));
  return f32x4.add(xy, zw);
}

/** The fifth bit from above as the sign of a float. */
@inline
export function sign(hash: v128): v128 {
  return v128.and(i32x4.shl(hash, 4), i32x4.splat(0x80000000));
}

/** Whole numbers below 2²² as integers, by adding what puts their digits last: cheaper than converting. */
@inline
export function wholeOf(x: v128): v128 {
  return i32x4.sub(f32x4.add(x, f32x4.splat(12582912)), i32x4.splat(0x4b400000));
}

/** Along x from one corner to the next. */
@inline
function row(
  still: bool, yz: v128, w: v128, ax: v128, bx: v128, y: v128, z: v128, x0: v128, x1: v128, u: v128,
): v128 {
  if (still) return between(edge(v128.xor(x0, yz), ax, y, z), edge(v128.xor(x1, yz), bx, y, z), u);
  return between(edgeInTime(v128.xor(x0, yz), ax, y, z, w), edgeInTime(v128.xor(x1, yz), bx, y, z, w), u);
}

/**
 * Adds weight × one lattice's noise at frequency × place. `time` is the distance from the lattice along a fourth axis,
 * which every gradient meets with ±1.
 */
export function noiseLattice(
  n: i32, out: usize, x: usize, y: usize, z: usize, frequency: f32, weight: f32, time: f32, seed: i32,
): void {
  if (time == 0) addLattice(true, n, out, x, y, z, frequency, weight, time, seed);
  else addLattice(false, n, out, x, y, z, frequency, weight, time, seed);
}

@inline
function addLattice(
  still: bool,
  n: i32, out: usize, x: usize, y: usize, z: usize, frequency: f32, weight: f32, time: f32, seed: i32,
): void {
  const f = f32x4.splat(frequency);
  const strength = f32x4.splat(weight * 0.5);
  const base = partOf(i32x4.splat(mixedOne(seed)));
  const w = f32x4.splat(time * 2);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const px = f32x4.mul(v128.load(x + i), f);
    const py = f32x4.mul(v128.load(y + i), f);
    const pz = f32x4.mul(v128.load(z + i), f);
    const fx = f32x4.floor(px);
    const fy = f32x4.floor(py);
    const fz = f32x4.floor(pz);
    const ax = f32x4.sub(px, fx);
    const ay = f32x4.sub(py, fy);
    const az = f32x4.sub(pz, fz);
    const sx = i32x4.mul(wholeOf(fx), i32x4.splat(SPREAD_X));
    const sy = i32x4.mul(wholeOf(fy), i32x4.splat(SPREAD_Y));
    const sz = i32x4.mul(wholeOf(fz), i32x4.splat(SPREAD_Z));
    const value = inCell(still, base, w, ax, ay, az, sx, sy, sz, fade(ax), fade(ay), fade(az));
    v128.store(out + i, f32x4.add(v128.load(out + i), f32x4.mul(strength, value)));
  }
}

/** The noise within a cell: places from its lower corner, its lattice numbers spread, the fades. */
@inline
function inCell(
  still: bool, base: v128, w: v128, ax: v128, ay: v128, az: v128, sx: v128, sy: v128, sz: v128, u: v128, v: v128, t: v128,
): v128 {
  const bx = f32x4.sub(ax, ONE);
  const by = f32x4.sub(ay, ONE);
  const bz = f32x4.sub(az, ONE);
  const x0 = partOf(sx);
  const x1 = partOf(i32x4.add(sx, i32x4.splat(SPREAD_X)));
  const y0 = partOf(sy);
  const y1 = partOf(i32x4.add(sy, i32x4.splat(SPREAD_Y)));
  const low = v128.xor(partOf(sz), base);
  let value = row(still, v128.xor(y0, low), w, ax, bx, ay, az, x0, x1, u);
  // Places on a plane of the lattice, as all of a flat layout are, have nothing of the rows beside it.
  const aside = v128.any_true(v);
  if (aside) value = between(value, row(still, v128.xor(y1, low), w, ax, bx, by, az, x0, x1, u), v);
  if (v128.any_true(t)) {
    const high = v128.xor(partOf(i32x4.add(sz, i32x4.splat(SPREAD_Z))), base);
    let far = row(still, v128.xor(y0, high), w, ax, bx, ay, bz, x0, x1, u);
    if (aside) far = between(far, row(still, v128.xor(y1, high), w, ax, bx, by, bz, x0, x1, u), v);
    value = between(value, far, t);
  }
  return value;
}

/** Three lattices at the same places, each to an output of its own: finding the cell is paid for once. */
export function noiseLattice3(
  n: i32, out0: usize, out1: usize, out2: usize, x: usize, y: usize, z: usize, frequency: f32, weight: f32, time: f32,
  seed0: i32, seed1: i32, seed2: i32,
): void {
  if (time == 0) addThree(true, n, out0, out1, out2, x, y, z, frequency, weight, time, seed0, seed1, seed2);
  else addThree(false, n, out0, out1, out2, x, y, z, frequency, weight, time, seed0, seed1, seed2);
}

@inline
function addThree(
  still: bool,
  n: i32, out0: usize, out1: usize, out2: usize, x: usize, y: usize, z: usize, frequency: f32, weight: f32, time: f32,
  seed0: i32, seed1: i32, seed2: i32,
): void {
  const f = f32x4.splat(frequency);
  const strength = f32x4.splat(weight * 0.5);
  const base0 = partOf(i32x4.splat(mixedOne(seed0)));
  const base1 = partOf(i32x4.splat(mixedOne(seed1)));
  const base2 = partOf(i32x4.splat(mixedOne(seed2)));
  const w = f32x4.splat(time * 2);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const px = f32x4.mul(v128.load(x + i), f);
    const py = f32x4.mul(v128.load(y + i), f);
    const pz = f32x4.mul(v128.load(z + i), f);
    const fx = f32x4.floor(px);
    const fy = f32x4.floor(py);
    const fz = f32x4.floor(pz);
    const ax = f32x4.sub(px, fx);
    const ay = f32x4.sub(py, fy);
    const az = f32x4.sub(pz, fz);
    const sx = i32x4.mul(wholeOf(fx), i32x4.splat(SPREAD_X));
    const sy = i32x4.mul(wholeOf(fy), i32x4.splat(SPREAD_Y));
    const sz = i32x4.mul(wholeOf(fz), i32x4.splat(SPREAD_Z));
    const u = fade(ax);
    const v = fade(ay);
    const t = fade(az);
    const a = inCell(still, base0, w, ax, ay, az, sx, sy, sz, u, v, t);
    v128.store(out0 + i, f32x4.add(v128.load(out0 + i), f32x4.mul(strength, a)));
    const b = inCell(still, base1, w, ax, ay, az, sx, sy, sz, u, v, t);
    v128.store(out1 + i, f32x4.add(v128.load(out1 + i), f32x4.mul(strength, b)));
    const c = inCell(still, base2, w, ax, ay, az, sx, sy, sz, u, v, t);
    v128.store(out2 + i, f32x4.add(v128.load(out2 + i), f32x4.mul(strength, c)));
  }
}
