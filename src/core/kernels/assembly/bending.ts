/** Pairs of numbers, as places beside an axis, turned and bent: many steps at the price of reading and writing once. */
import { beyond, quarters, sineIn } from "./sine";

/** (u, v) turned by an angle in radians, from u towards v. */
export function turnPair(n: i32, outU: usize, outV: usize, u: usize, v: usize, angle: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const a = v128.load(angle + i);
    const k = quarters(a);
    const r = beyond(a, k);
    const s = sineIn(k, r, 0);
    const c = sineIn(k, r, 1);
    const x = v128.load(u + i);
    const y = v128.load(v + i);
    v128.store(outU + i, f32x4.sub(f32x4.mul(x, c), f32x4.mul(y, s)));
    v128.store(outV + i, f32x4.add(f32x4.mul(x, s), f32x4.mul(y, c)));
  }
}

/** Of half an angle, below which its sine is the angle itself to float precision. */
const STRAIGHT: f32 = 1e-4;

/**
 * The plane of an axis and a side of it, bent: what is 0 … length along the axis lies on an arc of that length, what is before and behind
 * goes straight on. The middle line goes along the chord of its arc, which leans by half of the angle.
 * @param on from where the bend begins @param side beside the axis @param angle of the whole length, radians
 */
export function bendPair(
  n: i32, outOn: usize, outSide: usize, on: usize, side: usize, angle: usize, length: f32,
): void {
  const most = f32x4.splat(length);
  const part = f32x4.splat(1 / length);
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const half = f32x4.splat(0.5);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(on + i);
    const y = v128.load(side + i);
    const within = f32x4.pmax(zero, f32x4.pmin(most, x));
    const rest = f32x4.sub(x, within);
    const turned = f32x4.mul(v128.load(angle + i), f32x4.mul(within, part));
    const lean = f32x4.mul(turned, half);
    const k = quarters(lean);
    const r = beyond(lean, k);
    const sh = sineIn(k, r, 0);
    const ch = sineIn(k, r, 1);
    // Of the whole angle, by those of its half.
    const twice = f32x4.add(sh, sh);
    const s = f32x4.mul(twice, ch);
    const c = f32x4.sub(one, f32x4.mul(twice, sh));
    const isStraight = f32x4.lt(f32x4.abs(lean), f32x4.splat(STRAIGHT));
    const chord = f32x4.mul(within, v128.bitselect(one, f32x4.div(sh, lean), isStraight));
    v128.store(
      outOn + i,
      f32x4.add(f32x4.mul(chord, ch), f32x4.sub(f32x4.mul(rest, c), f32x4.mul(y, s))),
    );
    v128.store(
      outSide + i,
      f32x4.add(f32x4.add(f32x4.mul(chord, sh), f32x4.mul(rest, s)), f32x4.mul(y, c)),
    );
  }
}
