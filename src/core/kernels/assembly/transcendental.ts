/**
 * Functions that hardware and libraries round differently, worked out here so that results are the same bits
 * everywhere. Sine, cosine, exponential and logarithm after S. Moshier's Cephes library (sinf, cosf, expf, logf;
 * coefficients from memory, errors measured in the tests); the others by the standard library of the compiler.
 */

import { arcTangentOf } from "./arctangent";
import { exponentialOf } from "./exponential";
import { beyond, quarters, sineIn, sineOf } from "./sine";

const ONE = f32x4.splat(1);

export function sine(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) v128.store(out + i, sineOf(v128.load(a + i), 0));
}

export function cosine(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) v128.store(out + i, sineOf(v128.load(a + i), 1));
}

/** Both at the price of one. */
export function sineCosine(n: i32, sine: usize, cosine: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(a + i);
    const k = quarters(x);
    const r = beyond(x, k);
    v128.store(sine + i, sineIn(k, r, 0));
    v128.store(cosine + i, sineIn(k, r, 1));
  }
}

export function tangent(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(a + i);
    v128.store(out + i, f32x4.div(sineOf(x, 0), sineOf(x, 1)));
  }
}

export function exponential(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) v128.store(out + i, exponentialOf(v128.load(a + i)));
}

/** Normal numbers exactly scaled by their exponent, as Cephes does; smaller ones are scaled up first. */
export function logarithm(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(a + i);
    const tiny = f32x4.lt(x, f32x4.splat(1.1754943508222875e-38));
    const whole = v128.bitselect(f32x4.mul(x, f32x4.splat(16777216)), x, tiny);
    let e = f32x4.convert_i32x4_s(i32x4.sub(i32x4.shr_u(whole, 23), i32x4.splat(126)));
    e = f32x4.sub(e, v128.and(tiny, f32x4.splat(24)));
    let m = v128.or(v128.and(whole, i32x4.splat(0x007fffff)), f32x4.splat(0.5));
    const low = f32x4.lt(m, f32x4.splat(0.7071067811865476));
    e = f32x4.sub(e, v128.and(low, ONE));
    m = f32x4.sub(f32x4.add(m, v128.and(low, m)), ONE);
    const z = f32x4.mul(m, m);
    let p = f32x4.add(f32x4.mul(f32x4.splat(7.0376836292e-2), m), f32x4.splat(-1.1514610310e-1));
    p = f32x4.add(f32x4.mul(p, m), f32x4.splat(1.1676998740e-1));
    p = f32x4.add(f32x4.mul(p, m), f32x4.splat(-1.2420140846e-1));
    p = f32x4.add(f32x4.mul(p, m), f32x4.splat(1.4249322787e-1));
    p = f32x4.add(f32x4.mul(p, m), f32x4.splat(-1.6668057665e-1));
    p = f32x4.add(f32x4.mul(p, m), f32x4.splat(2.0000714765e-1));
    p = f32x4.add(f32x4.mul(p, m), f32x4.splat(-2.4999993993e-1));
    p = f32x4.add(f32x4.mul(p, m), f32x4.splat(3.3333331174e-1));
    let y = f32x4.mul(f32x4.mul(p, m), z);
    y = f32x4.add(y, f32x4.mul(e, f32x4.splat(-2.12194440e-4)));
    y = f32x4.sub(y, f32x4.mul(z, f32x4.splat(0.5)));
    y = f32x4.add(f32x4.add(m, y), f32x4.mul(e, f32x4.splat(0.693359375)));
    y = v128.bitselect(x, y, f32x4.eq(x, f32x4.splat(Infinity)));
    y = v128.bitselect(f32x4.splat(-Infinity), y, f32x4.eq(x, f32x4.splat(0)));
    y = v128.bitselect(f32x4.splat(NaN), y, f32x4.lt(x, f32x4.splat(0)));
    v128.store(out + i, v128.bitselect(x, y, f32x4.ne(x, x)));
  }
}

/** One element at a time, in the compiler's library; so are the two after it. */
export function power(n: i32, out: usize, a: usize, b: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4)
    store<f32>(out + i, Mathf.pow(load<f32>(a + i), load<f32>(b + i)));
}

export function arcSine(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4)
    store<f32>(out + i, Mathf.asin(min<f32>(1, max<f32>(-1, load<f32>(a + i)))));
}

export function arcCosine(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4)
    store<f32>(out + i, Mathf.acos(min<f32>(1, max<f32>(-1, load<f32>(a + i)))));
}

export function arcTangent2(n: i32, out: usize, y: usize, x: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, arcTangentOf(v128.load(y + i), v128.load(x + i)));
}

/** A response's input, clipped to 0…1; NaN stays. */
@inline
function clipped(at: usize): v128 {
  return f32x4.pmax(f32x4.pmin(v128.load(at), ONE), f32x4.splat(0));
}

@inline
function cubeOf(t: v128): v128 {
  return f32x4.mul(f32x4.mul(t, t), t);
}

// Named shapes of a response (maths/ease.ts), each in a loop of its own; the input is clipped to 0…1.

export function easeLinear(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) v128.store(out + i, clipped(a + i));
}

export function easeSmooth(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const t = clipped(a + i);
    v128.store(out + i, f32x4.mul(f32x4.mul(t, t), f32x4.sub(f32x4.splat(3), f32x4.add(t, t))));
  }
}

export function easeCosine(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const cosine = sineOf(f32x4.mul(clipped(a + i), f32x4.splat(3.1415926535897931)), 1);
    v128.store(out + i, f32x4.mul(f32x4.sub(ONE, cosine), f32x4.splat(0.5)));
  }
}

export function easeIn(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) v128.store(out + i, cubeOf(clipped(a + i)));
}

export function easeOut(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(out + i, f32x4.add(ONE, cubeOf(f32x4.sub(clipped(a + i), ONE))));
}

export function easeInOut(n: i32, out: usize, a: usize): void {
  const four = f32x4.splat(4);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const t = clipped(a + i);
    const low = f32x4.mul(four, cubeOf(t));
    const high = f32x4.add(ONE, f32x4.mul(four, cubeOf(f32x4.sub(t, ONE))));
    v128.store(out + i, v128.bitselect(low, high, f32x4.lt(t, f32x4.splat(0.5))));
  }
}

export function easeOvershoot(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const back = f32x4.sub(clipped(a + i), ONE);
    const square = f32x4.mul(f32x4.splat(1.70158), f32x4.mul(back, back));
    v128.store(out + i, f32x4.add(ONE, f32x4.add(f32x4.mul(f32x4.splat(2.70158), cubeOf(back)), square)));
  }
}
