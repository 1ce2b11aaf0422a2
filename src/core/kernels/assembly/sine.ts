/** Sine and cosine of four numbers, shared by kernels. */

const ONE = f32x4.splat(1);

/** Nearest multiple of π/2. */
@inline
export function quarters(x: v128): v128 {
  return f32x4.nearest(f32x4.mul(x, f32x4.splat(0.6366197723675814)));
}

/** What is left of x after k quarter turns, in three parts (Cody and Waite); exact enough for |x| < 8192. */
@inline
export function beyond(x: v128, k: v128): v128 {
  let r = f32x4.sub(x, f32x4.mul(k, f32x4.splat(1.5703125)));
  r = f32x4.sub(r, f32x4.mul(k, f32x4.splat(4.837512969970703125e-4)));
  return f32x4.sub(r, f32x4.mul(k, f32x4.splat(7.549789948768648e-8)));
}

/** Sine within an eighth of a turn. */
@inline
function nearSine(r: v128): v128 {
  const s = f32x4.mul(r, r);
  let sine = f32x4.add(f32x4.mul(f32x4.splat(-1.9515295891e-4), s), f32x4.splat(8.3321608736e-3));
  sine = f32x4.add(f32x4.mul(sine, s), f32x4.splat(-1.6666654611e-1));
  return f32x4.add(f32x4.mul(f32x4.mul(sine, s), r), r);
}

/** Cosine within an eighth of a turn. */
@inline
function nearCosine(r: v128): v128 {
  const s = f32x4.mul(r, r);
  let cosine = f32x4.add(f32x4.mul(f32x4.splat(2.443315711809948e-5), s), f32x4.splat(-1.388731625493765e-3));
  cosine = f32x4.add(f32x4.mul(cosine, s), f32x4.splat(4.166664568298827e-2));
  return f32x4.add(f32x4.mul(f32x4.mul(cosine, s), s), f32x4.sub(ONE, f32x4.mul(s, f32x4.splat(0.5))));
}

/** sin(kπ/2 + r), or the cosine when `quarter` is 1: what is the same for both is worked out once by the compiler. */
@inline
export function sineIn(k: v128, r: v128, quarter: i32): v128 {
  const quadrant = i32x4.add(i32x4.trunc_sat_f32x4_s(k), i32x4.splat(quarter));
  const odd = i32x4.shr_s(i32x4.shl(quadrant, 31), 31);
  const flip = i32x4.shl(i32x4.shr_u(quadrant, 1), 31);
  return v128.xor(v128.bitselect(nearCosine(r), nearSine(r), odd), flip);
}

/** sin x, or cos x when `quarter` is 1. */
@inline
export function sineOf(x: v128, quarter: i32): v128 {
  const k = quarters(x);
  return sineIn(k, beyond(x, k), quarter);
}
