/**
 * The angle of a direction, four at a time. The polynomial is fitted to arctan t ÷ t on 0…tan π/8 for the least greatest
 * error (Lawson's reweighting of least squares; 7e-10).
 */

const ZERO = f32x4.splat(0);

/** Radians from the first axis towards the second, −π…π; 0 for no direction. */
@inline
export function arcTangentOf(y: v128, x: v128): v128 {
  // Far from the smallest numbers, which lack digits; the angle is the same.
  const tiny = f32x4.lt(f32x4.pmax(f32x4.abs(x), f32x4.abs(y)), f32x4.splat(1e-30));
  const size = v128.bitselect(f32x4.splat(1.2676506002282294e30), f32x4.splat(1), tiny);
  const ax = f32x4.mul(f32x4.abs(x), size);
  const ay = f32x4.mul(f32x4.abs(y), size);
  const steep = f32x4.gt(ay, ax);
  const long = v128.bitselect(ay, ax, steep);
  const short = v128.bitselect(ax, ay, steep);
  // Beyond a sixteenth of a turn it is counted from the diagonal; two infinities stand on it.
  const endless = f32x4.eq(short, f32x4.splat(Infinity));
  const far = v128.or(f32x4.gt(short, f32x4.mul(long, f32x4.splat(0.4142135623730950))), endless);
  const over = v128.bitselect(f32x4.sub(short, long), short, far);
  const under = v128.bitselect(f32x4.add(short, long), long, far);
  const t = v128.andnot(f32x4.div(over, under), v128.or(endless, f32x4.eq(under, ZERO)));
  const s = f32x4.mul(t, t);
  let p = f32x4.add(f32x4.mul(f32x4.splat(-0.06083222049775881), s), f32x4.splat(0.10595914681190834));
  p = f32x4.add(f32x4.mul(p, s), f32x4.splat(-0.14243837629414888));
  p = f32x4.add(f32x4.mul(p, s), f32x4.splat(0.19998488885202445));
  p = f32x4.add(f32x4.mul(p, s), f32x4.splat(-0.3333331549690717));
  let angle = f32x4.add(f32x4.mul(f32x4.mul(p, s), t), t);
  // What π/4, π/2 and π lack in float32 is added by itself.
  angle = f32x4.add(f32x4.add(angle, v128.and(far, f32x4.splat(-2.1855695031547384e-8))), v128.and(far, f32x4.splat(0.7853981852531433)));
  angle = v128.bitselect(from(1.5707963705062866, -4.371139006309477e-8, angle), angle, steep);
  // By the sign itself, so that −0 counts as the other side.
  const behind = i32x4.shr_s(x, 31);
  angle = v128.bitselect(from(3.1415927410125732, -8.742278012618954e-8, angle), angle, behind);
  return v128.or(angle, v128.and(y, i32x4.splat(0x80000000)));
}

@inline
function from(whole: f32, lacking: f32, angle: v128): v128 {
  return f32x4.add(f32x4.splat(whole), f32x4.sub(f32x4.splat(lacking), angle));
}
