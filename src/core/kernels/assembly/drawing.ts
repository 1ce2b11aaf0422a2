/** What is drawn, from planar lanes: places side by side, elements picked by number, ends of lines, vertices of moving meshes. */

/** x y z of each element, three numbers one after the other. */
export function interleave3(n: i32, out: usize, x: usize, y: usize, z: usize): void {
  const whole = n & ~3;
  for (let i = 0; i < whole; i += 4) {
    const at = (<usize>i) << 2;
    const a = v128.load(x + at);
    const b = v128.load(y + at);
    const c = v128.load(z + at);
    const to = out + at * 3;
    // x0 y0 z0 x1, y1 z1 x2 y2, z2 x3 y3 z3
    const xy = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
    v128.store(to, v128.shuffle<f32>(xy, c, 0, 1, 4, 2));
    const yz = v128.shuffle<f32>(b, c, 1, 5, 2, 6);
    v128.store(to + 16, v128.shuffle<f32>(yz, a, 0, 1, 6, 2));
    const zx = v128.shuffle<f32>(c, a, 2, 7, 3, 3);
    v128.store(to + 32, v128.shuffle<f32>(zx, b, 0, 1, 7, 2));
  }
  for (let i = whole; i < n; i++) {
    const at = (<usize>i) << 2;
    const to = out + at * 3;
    store<f32>(to, load<f32>(x + at));
    store<f32>(to + 4, load<f32>(y + at));
    store<f32>(to + 8, load<f32>(z + at));
  }
}

/** Elements of a whole lane by their numbers. */
export function gather(n: i32, out: usize, numbers: usize, from: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4)
    store<f32>(out + i, load<f32>(from + ((<usize>load<i32>(numbers + i)) << 2)));
}

/**
 * Ends of lines placed by a matrix, three numbers an end, worked out in float64 as its numbers are given.
 * @param ends numbers of points, this block's @param x y z whole lanes of the points
 */
export function placeEnds(
  n: i32, out: usize, ends: usize, x: usize, y: usize, z: usize,
  m0: f64, m1: f64, m2: f64, m4: f64, m5: f64, m6: f64, m8: f64, m9: f64, m10: f64, m12: f64, m13: f64, m14: f64,
): void {
  for (let i = 0; i < n; i++) {
    const p = (<usize>load<i32>(ends + ((<usize>i) << 2))) << 2;
    const a = <f64>load<f32>(x + p);
    const b = <f64>load<f32>(y + p);
    const c = <f64>load<f32>(z + p);
    const to = out + (<usize>i) * 12;
    store<f32>(to, <f32>(m0 * a + m4 * b + m8 * c + m12));
    store<f32>(to + 4, <f32>(m1 * a + m5 * b + m9 * c + m13));
    store<f32>(to + 8, <f32>(m2 * a + m6 * b + m10 * c + m14));
  }
}

/** Colours of ends, four numbers an end: those of the points times one colour. */
export function colorEnds(
  n: i32, out: usize, ends: usize, r: usize, g: usize, b: usize, a: usize, cr: f64, cg: f64, cb: f64, ca: f64,
): void {
  for (let i = 0; i < n; i++) {
    const p = (<usize>load<i32>(ends + ((<usize>i) << 2))) << 2;
    const to = out + ((<usize>i) << 4);
    store<f32>(to, <f32>(cr * <f64>load<f32>(r + p)));
    store<f32>(to + 4, <f32>(cg * <f64>load<f32>(g + p)));
    store<f32>(to + 8, <f32>(cb * <f64>load<f32>(b + p)));
    store<f32>(to + 12, <f32>(ca * <f64>load<f32>(a + p)));
  }
}

/**
 * Vertices of a mesh whose points have moved, three numbers each: where they are, and the unit normal of the faces that are
 * smooth there. A corner counts by the area of the triangle that it makes with the corners beside it (N. Max, "Weights for
 * computing vertex normals from facet normals", Journal of Graphics Tools 4 (2), 1999, has what else might be done).
 *
 * @param first number of the block's first vertex
 * @param places vectors of four, of all points
 * @param point of each vertex, whole @param starts of each vertex' corners, whole, one more than there are vertices
 * @param beside of each corner the points before and behind it, whole
 */
export function shadeVertices(
  n: i32, position: usize, normal: usize, first: i32, places: usize, point: usize, starts: usize, beside: usize,
): void {
  for (let i = 0; i < n; i++) {
    const v = (<usize>(first + i)) << 2;
    const p = v128.load(places + ((<usize>load<i32>(point + v)) << 4));
    let k = load<i32>(starts + v);
    const end = load<i32>(starts + v + 4);
    let sum = f32x4.splat(0);
    let other = sum;
    // Two at a time: one need not wait for the other.
    for (; k + 1 < end; k += 2) {
      sum = f32x4.add(sum, turnedCross(places, beside + ((<usize>k) << 3), p));
      other = f32x4.add(other, turnedCross(places, beside + ((<usize>k) << 3) + 8, p));
    }
    if (k < end) sum = f32x4.add(sum, turnedCross(places, beside + ((<usize>k) << 3), p));
    sum = f32x4.add(sum, other);
    sum = v128.shuffle<f32>(sum, sum, 1, 2, 0, 3);
    const square = f32x4.mul(sum, sum);
    const length = Mathf.sqrt(
      f32x4.extract_lane(square, 0) + f32x4.extract_lane(square, 1) + f32x4.extract_lane(square, 2),
    );
    // Without an area there is no direction; any unit vector does.
    const unit = length > 0 ? f32x4.div(sum, f32x4.splat(length)) : f32x4(0, 1, 0, 0);
    const to = (<usize>i) * 12;
    store<i64>(position + to, i64x2.extract_lane(p, 0));
    store<f32>(position + to + 8, f32x4.extract_lane(p, 2));
    store<i64>(normal + to, i64x2.extract_lane(unit, 0));
    store<f32>(normal + to + 8, f32x4.extract_lane(unit, 2));
  }
}

/** The cross product of the ways to the points behind and before a corner, its parts turned on by one axis. */
@inline
function turnedCross(places: usize, pair: usize, p: v128): v128 {
  const a = f32x4.sub(v128.load(places + ((<usize>load<i32>(pair + 4)) << 4)), p);
  const b = f32x4.sub(v128.load(places + ((<usize>load<i32>(pair)) << 4)), p);
  return f32x4.sub(f32x4.mul(a, v128.shuffle<f32>(b, b, 1, 2, 0, 3)), f32x4.mul(v128.shuffle<f32>(a, a, 1, 2, 0, 3), b));
}

/** Adds up how many elements pick each of so many sources; those that pick none of them count at 0, the others one further. */
export function countPicks(n: i32, picks: usize, sources: i32, counts: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    const pick = load<i32>(picks + i);
    const at = counts + ((<usize>(<u32>pick < <u32>sources ? pick + 1 : 0)) << 2);
    store<i32>(at, load<i32>(at) + 1);
  }
}

/** Writes the numbers of elements by what they pick. @param next where the next of each group goes, counted on */
export function sortByPick(n: i32, picks: usize, sources: i32, next: usize, numbers: usize): void {
  for (let i = 0; i < n; i++) {
    const pick = load<i32>(picks + ((<usize>i) << 2));
    const at = next + ((<usize>(<u32>pick < <u32>sources ? pick + 1 : 0)) << 2);
    const to = load<i32>(at);
    store<i32>(numbers + ((<usize>to) << 2), i);
    store<i32>(at, to + 1);
  }
}
