/** Sine and cosine of four numbers, shared by kernels. */

const ONE = f32x4.splat(1);

/** sin x in the first half turn's octants and cos x, chosen by `quarter`: 0 for sine, 1 for cosine. */
@inline
export function sineOf(x: v128, quarter: i32): v128 {
  // Nearest multiple of π/2 in three parts (Cody and Waite); exact enough for |x| < 8192.
  const k = f32x4.nearest(f32x4.mul(x, f32x4.splat(0.6366197723675814)));
  let r = f32x4.sub(x, f32x4.mul(k, f32x4.splat(1.5703125)));
  r = f32x4.sub(r, f32x4.mul(k, f32x4.splat(4.837512969970703125e-4)));
  r = f32x4.sub(r, f32x4.mul(k, f32x4.splat(7.549789948768648e-8)));
  const q = i32x4.add(i32x4.trunc_sat_f32x4_s(k), i32x4.splat(quarter));
  const s = f32x4.mul(r, r);
  let sine = f32x4.add(f32x4.mul(f32x4.splat(-1.9515295891e-4), s), f32x4.splat(8.3321608736e-3));
  sine = f32x4.add(f32x4.mul(sine, s), f32x4.splat(-1.6666654611e-1));
  sine = f32x4.add(f32x4.mul(f32x4.mul(sine, s), r), r);
  let cosine = f32x4.add(f32x4.mul(f32x4.splat(2.443315711809948e-5), s), f32x4.splat(-1.388731625493765e-3));
  cosine = f32x4.add(f32x4.mul(cosine, s), f32x4.splat(4.166664568298827e-2));
  cosine = f32x4.add(f32x4.mul(f32x4.mul(cosine, s), s), f32x4.sub(ONE, f32x4.mul(s, f32x4.splat(0.5))));
  const odd = i32x4.eq(v128.and(q, i32x4.splat(1)), i32x4.splat(1));
  const flip = i32x4.shl(v128.and(q, i32x4.splat(2)), 30);
  return v128.xor(v128.bitselect(cosine, sine, odd), flip);
}
