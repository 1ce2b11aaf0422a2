/**
 * Functions that hardware and libraries round differently, worked out here so that results are the same bits
 * everywhere. Sine, cosine, exponential and logarithm after S. Moshier's Cephes library (sinf, cosf, expf, logf;
 * coefficients from memory, errors measured in the tests); the others by the standard library of the compiler.
 */

import { sineOf } from "./sine";

const ONE = f32x4.splat(1);

export function sine(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) v128.store(out + i, sineOf(v128.load(a + i), 0));
}

export function cosine(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) v128.store(out + i, sineOf(v128.load(a + i), 1));
}

export function tangent(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(a + i);
    v128.store(out + i, f32x4.div(sineOf(x, 0), sineOf(x, 1)));
  }
}

export function exponential(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(a + i);
    const inside = f32x4.min(f32x4.max(x, f32x4.splat(-87.3)), f32x4.splat(88.3762626647949));
    const k = f32x4.nearest(f32x4.mul(inside, f32x4.splat(1.44269504088896341)));
    let r = f32x4.sub(inside, f32x4.mul(k, f32x4.splat(0.693359375)));
    r = f32x4.sub(r, f32x4.mul(k, f32x4.splat(-2.12194440e-4)));
    let p = f32x4.add(f32x4.mul(f32x4.splat(1.9875691500e-4), r), f32x4.splat(1.3981999507e-3));
    p = f32x4.add(f32x4.mul(p, r), f32x4.splat(8.3334519073e-3));
    p = f32x4.add(f32x4.mul(p, r), f32x4.splat(4.1665795894e-2));
    p = f32x4.add(f32x4.mul(p, r), f32x4.splat(1.6666665459e-1));
    p = f32x4.add(f32x4.mul(p, r), f32x4.splat(0.5));
    p = f32x4.add(f32x4.add(f32x4.mul(f32x4.mul(p, r), r), r), ONE);
    const scale = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(k), i32x4.splat(127)), 23);
    let y = f32x4.mul(p, scale);
    y = v128.bitselect(f32x4.splat(f32.MAX_VALUE * 2), y, f32x4.gt(x, f32x4.splat(88.3762626647949)));
    y = v128.bitselect(f32x4.splat(0), y, f32x4.lt(x, f32x4.splat(-87.3)));
    v128.store(out + i, v128.bitselect(x, y, f32x4.ne(x, x)));
  }
}

/** One element at a time, in the compiler's library. */
export function logarithm(n: i32, out: usize, a: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) store<f32>(out + i, Mathf.log(load<f32>(a + i)));
}

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
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4)
    store<f32>(out + i, Mathf.atan2(load<f32>(y + i), load<f32>(x + i)));
}

/** Named shapes of a response in the order of EASES (maths/ease.ts); the input is clipped to 0…1. */
export function ease(n: i32, out: usize, a: usize, kind: i32): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const t = f32x4.min(ONE, f32x4.max(f32x4.splat(0), v128.load(a + i)));
    v128.store(out + i, eased(t, kind));
  }
}

@inline
function eased(t: v128, kind: i32): v128 {
  const back = f32x4.sub(t, ONE);
  const cube = f32x4.mul(f32x4.mul(back, back), back);
  switch (kind) {
    case 1:
      return f32x4.mul(f32x4.mul(t, t), f32x4.sub(f32x4.splat(3), f32x4.add(t, t)));
    case 2:
      return f32x4.mul(f32x4.sub(ONE, sineOf(f32x4.mul(t, f32x4.splat(3.1415926535897931)), 1)), f32x4.splat(0.5));
    case 3:
      return f32x4.mul(f32x4.mul(t, t), t);
    case 4:
      return f32x4.add(ONE, cube);
    case 5: {
      const low = f32x4.mul(f32x4.splat(4), f32x4.mul(f32x4.mul(t, t), t));
      const high = f32x4.add(ONE, f32x4.mul(f32x4.splat(4), cube));
      return v128.bitselect(low, high, f32x4.lt(t, f32x4.splat(0.5)));
    }
    case 6: {
      const square = f32x4.mul(f32x4.splat(1.70158), f32x4.mul(back, back));
      return f32x4.add(ONE, f32x4.add(f32x4.mul(f32x4.splat(2.70158), cube), square));
    }
    default:
      return t;
  }
}
