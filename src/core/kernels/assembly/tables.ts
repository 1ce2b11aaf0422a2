/** Look-up in tables over 0…1, mixed linearly between entries; the ends hold, NaN reads the first entry. */
import { storeTransposed } from "./transposing";

/** Places between entries: x on 0…`last`, NaN at 0. */
@inline
function placesOf(x: v128, last: i32): v128 {
  const from = v128.and(x, f32x4.gt(x, f32x4.splat(0)));
  return f32x4.mul(f32x4.pmin(from, f32x4.splat(1)), f32x4.splat(<f32>last));
}

/** Entries below those places, the last but one at most. */
@inline
function entriesOf(places: v128, last: i32): v128 {
  return i32x4.min_s(i32x4.splat(last - 1), i32x4.trunc_sat_f32x4_s(places));
}

/** A table of `last` + 1 numbers. */
export function lookup(n: i32, out: usize, x: usize, table: usize, last: i32): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const places = placesOf(v128.load(x + i), last);
    const entries = entriesOf(places, last);
    const t = f32x4.sub(places, f32x4.convert_i32x4_s(entries));
    // Each entry comes with the next one in one load.
    const a = v128.load64_zero(table + ((<usize>i32x4.extract_lane(entries, 0)) << 2));
    const b = v128.load64_zero(table + ((<usize>i32x4.extract_lane(entries, 1)) << 2));
    const c = v128.load64_zero(table + ((<usize>i32x4.extract_lane(entries, 2)) << 2));
    const d = v128.load64_zero(table + ((<usize>i32x4.extract_lane(entries, 3)) << 2));
    const ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
    const cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
    const low = v128.shuffle<f32>(ab, cd, 0, 1, 4, 5);
    const high = v128.shuffle<f32>(ab, cd, 2, 3, 6, 7);
    v128.store(out + i, f32x4.add(low, f32x4.mul(t, f32x4.sub(high, low))));
  }
}

/** The colour at a place between two entries. */
@inline
function colorAt(table: usize, entry: i32, t: v128): v128 {
  const at = table + ((<usize>entry) << 4);
  const from = v128.load(at);
  return f32x4.add(from, f32x4.mul(t, f32x4.sub(v128.load(at, 16), from)));
}

/** A table of `last` + 1 colours of four numbers. */
export function gradient(
  n: i32, red: usize, green: usize, blue: usize, alpha: usize, x: usize, table: usize, last: i32,
): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const places = placesOf(v128.load(x + i), last);
    const entries = entriesOf(places, last);
    const t = f32x4.sub(places, f32x4.convert_i32x4_s(entries));
    const a = colorAt(table, i32x4.extract_lane(entries, 0), v128.shuffle<f32>(t, t, 0, 0, 0, 0));
    const b = colorAt(table, i32x4.extract_lane(entries, 1), v128.shuffle<f32>(t, t, 1, 1, 1, 1));
    const c = colorAt(table, i32x4.extract_lane(entries, 2), v128.shuffle<f32>(t, t, 2, 2, 2, 2));
    const d = colorAt(table, i32x4.extract_lane(entries, 3), v128.shuffle<f32>(t, t, 3, 3, 3, 3));
    storeTransposed(red + i, green + i, blue + i, alpha + i, a, b, c, d);
  }
}
