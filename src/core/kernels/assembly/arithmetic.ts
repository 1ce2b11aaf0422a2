/** Exact operations of IEEE 754 float32, four elements at a time. */

import { lengthOf } from "./vectors";

const ZERO = f32x4.splat(0);
const HALF = f32x4.splat(0.5);
const ONE = f32x4.splat(1);

export function fill(n: i32, out: usize, value: f32): void {
  const v = f32x4.splat(value);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) v128.store(out + i, v);
}

/** Copies whole vectors of four. */
export function copy(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) v128.store(out + i, v128.load(a + i));
}

/** The numbers from `first` on. */
export function countUp(n: i32, out: usize, first: i32): void {
  const ahead = i32x4(0, 1, 2, 3);
  for (let i = 0; i < n; i += 4)
    v128.store(out + ((<usize>i) << 2), f32x4.convert_i32x4_s(i32x4.add(i32x4.splat(first + i), ahead)));
}

/** Numbers without their fractions, as 32-bit integers in the register's bits. */
export function toIntegers(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, i32x4.trunc_sat_f32x4_s(v128.load(a + i)));
}

export function fromIntegers(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, f32x4.convert_i32x4_s(v128.load(a + i)));
}

export function add(n: i32, out: usize, a: usize, b: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, f32x4.add(v128.load(a + i), v128.load(b + i)));
}

export function subtract(n: i32, out: usize, a: usize, b: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, f32x4.sub(v128.load(a + i), v128.load(b + i)));
}

export function multiply(n: i32, out: usize, a: usize, b: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, f32x4.mul(v128.load(a + i), v128.load(b + i)));
}

export function multiplyAdd(n: i32, out: usize, a: usize, b: usize, c: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, f32x4.add(f32x4.mul(v128.load(a + i), v128.load(b + i)), v128.load(c + i)));
}

/** 0 where the divisor is 0. */
@inline
function quotient(a: v128, b: v128): v128 {
  return v128.andnot(f32x4.div(a, b), f32x4.eq(b, ZERO));
}

export function divide(n: i32, out: usize, a: usize, b: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, quotient(v128.load(a + i), v128.load(b + i)));
}

/**
 * x − y⌊x/y⌋, of the sign of y and always nearer to 0 than y: what would be rounded to y is the number before it. 0 where y
 * is 0.
 */
@inline
function remainder(x: v128, y: v128): v128 {
  let r = f32x4.sub(x, f32x4.mul(y, f32x4.floor(f32x4.div(x, y))));
  // Where the quotient was rounded up to a whole number, what is left has the other sign.
  r = f32x4.add(r, v128.and(y, f32x4.lt(f32x4.mul(r, y), ZERO)));
  // Where numbers lie further apart than y is large, it may have it still: nothing is left that could be told.
  r = v128.andnot(r, f32x4.lt(f32x4.mul(r, y), ZERO));
  const whole = f32x4.ge(f32x4.abs(r), f32x4.abs(y));
  r = v128.bitselect(i32x4.sub(y, i32x4.splat(1)), r, whole);
  return v128.andnot(r, f32x4.eq(y, ZERO));
}

export function modulo(n: i32, out: usize, a: usize, b: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, remainder(v128.load(a + i), v128.load(b + i)));
}

/** Up to the length and back again. */
export function pingPong(n: i32, out: usize, a: usize, b: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const length = v128.load(b + i);
    const r = remainder(v128.load(a + i), f32x4.add(length, length));
    v128.store(out + i, f32x4.sub(length, f32x4.abs(f32x4.sub(r, length))));
  }
}

export function minimum(n: i32, out: usize, a: usize, b: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, f32x4.min(v128.load(a + i), v128.load(b + i)));
}

export function maximum(n: i32, out: usize, a: usize, b: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, f32x4.max(v128.load(a + i), v128.load(b + i)));
}

export function less(n: i32, out: usize, a: usize, b: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, v128.and(ONE, f32x4.lt(v128.load(a + i), v128.load(b + i))));
}

export function select(n: i32, out: usize, no: usize, yes: usize, when: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const chosen = f32x4.gt(v128.load(when + i), HALF);
    v128.store(out + i, v128.bitselect(v128.load(yes + i), v128.load(no + i), chosen));
  }
}

export function absolute(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, f32x4.abs(v128.load(a + i)));
}

export function floor(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, f32x4.floor(v128.load(a + i)));
}

export function ceiling(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, f32x4.ceil(v128.load(a + i)));
}

/** Halves round up. Adding a half first would round 0.49999997 up too. */
export function round(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(a + i);
    const low = f32x4.floor(x);
    const up = v128.and(ONE, f32x4.ge(f32x4.sub(x, low), HALF));
    v128.store(out + i, f32x4.add(low, up));
  }
}

/** Always below 1: what would be rounded to it is the number before it. */
export function fraction(n: i32, out: usize, a: usize): void {
  const most = f32x4.splat(0.999999940395355224609375);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(a + i);
    v128.store(out + i, f32x4.pmin(f32x4.sub(x, f32x4.floor(x)), most));
  }
}

export function sign(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(a + i);
    const up = v128.and(ONE, f32x4.gt(x, ZERO));
    const down = v128.and(ONE, f32x4.lt(x, ZERO));
    v128.store(out + i, f32x4.sub(up, down));
  }
}

export function squareRoot(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, f32x4.sqrt(v128.load(a + i)));
}

/** By comparing, which is one instruction each way: a NaN stays one, and −0 between two zeros. */
export function clamp(n: i32, out: usize, a: usize, low: usize, high: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, f32x4.pmax(f32x4.pmin(v128.load(a + i), v128.load(high + i)), v128.load(low + i)));
}

/** a + t (b − a). */
export function mix(n: i32, out: usize, a: usize, b: usize, t: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const from = v128.load(a + i);
    const span = f32x4.sub(v128.load(b + i), from);
    v128.store(out + i, f32x4.add(from, f32x4.mul(v128.load(t + i), span)));
  }
}

export function length3(n: i32, out: usize, x: usize, y: usize, z: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    v128.store(out + i, lengthOf(v128.load(x + i), v128.load(y + i), v128.load(z + i)));
  }
}

/** Numbers that are not finite become 0. Returns how many there were among the first n. */
export function replaceNotFinite(n: i32, a: usize): i32 {
  let bad = 0;
  let i: usize = 0;
  const end = (<usize>n) << 2;
  for (; i < end; i += 16) {
    const x = v128.load(a + i);
    // x − x is 0 for finite numbers and NaN for all others.
    const finite = f32x4.eq(f32x4.sub(x, x), ZERO);
    if (i32x4.all_true(finite)) continue;
    for (let k: usize = 0; k < 16 && i + k < end; k += 4) {
      const v = load<f32>(a + i + k);
      if (v - v == 0) continue;
      store<f32>(a + i + k, 0);
      bad++;
    }
  }
  return bad;
}
