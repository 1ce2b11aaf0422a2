/** e to the power of four numbers at once, after Cephes (see transcendental.ts). */

@inline
export function exponentialOf(x: v128): v128 {
  const inside = f32x4.min(f32x4.max(x, f32x4.splat(-87.3)), f32x4.splat(88.3762626647949));
  const k = f32x4.nearest(f32x4.mul(inside, f32x4.splat(1.44269504088896341)));
  let r = f32x4.sub(inside, f32x4.mul(k, f32x4.splat(0.693359375)));
  r = f32x4.sub(r, f32x4.mul(k, f32x4.splat(-2.12194440e-4)));
  let p = f32x4.add(f32x4.mul(f32x4.splat(1.9875691500e-4), r), f32x4.splat(1.3981999507e-3));
  p = f32x4.add(f32x4.mul(p, r), f32x4.splat(8.3334519073e-3));
  p = f32x4.add(f32x4.mul(p, r), f32x4.splat(4.1665795894e-2));
  p = f32x4.add(f32x4.mul(p, r), f32x4.splat(1.6666665459e-1));
  p = f32x4.add(f32x4.mul(p, r), f32x4.splat(0.5));
  p = f32x4.add(f32x4.add(f32x4.mul(f32x4.mul(p, r), r), r), f32x4.splat(1));
  const scale = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(k), i32x4.splat(127)), 23);
  let y = f32x4.mul(p, scale);
  y = v128.bitselect(f32x4.splat(f32.MAX_VALUE * 2), y, f32x4.gt(x, f32x4.splat(88.3762626647949)));
  y = v128.bitselect(f32x4.splat(0), y, f32x4.lt(x, f32x4.splat(-87.3)));
  return v128.bitselect(x, y, f32x4.ne(x, x));
}
