/** What is done with the lanes of vectors. */

/** The four numbers of a vector added up. */
@inline
export function sum(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + (f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3));
}

/** Lengths of four ways. */
@inline
export function lengthOf(x: v128, y: v128, z: v128): v128 {
  return f32x4.sqrt(f32x4.add(f32x4.add(f32x4.mul(x, x), f32x4.mul(y, y)), f32x4.mul(z, z)));
}
