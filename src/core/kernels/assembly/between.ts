/** a + t (b − a). */
@inline
export function between(a: v128, b: v128, t: v128): v128 {
  return f32x4.add(a, f32x4.mul(t, f32x4.sub(b, a)));
}
