/** What a lane of numbers is like as a whole. Only the first n count, and of those the finite ones. */

/** Joins with what `out` holds: the least and the greatest, four of each. */
export function leastAndGreatest(n: i32, out: usize, a: usize): void {
  let low = v128.load(out);
  let high = v128.load(out, 16);
  const whole = (<usize>(n & ~3)) << 2;
  for (let i: usize = 0; i < whole; i += 16) {
    const x = v128.load(a + i);
    // x − x is 0 for finite numbers alone; the others give way to what there is.
    const finite = f32x4.eq(f32x4.sub(x, x), f32x4.splat(0));
    low = f32x4.pmin(low, v128.bitselect(x, low, finite));
    high = f32x4.pmax(high, v128.bitselect(x, high, finite));
  }
  v128.store(out, low);
  v128.store(out, high, 16);
  for (let i = whole, end = (<usize>n) << 2; i < end; i += 4) {
    const x = load<f32>(a + i);
    if (x - x != 0) continue;
    if (x < load<f32>(out)) store<f32>(out, x);
    if (x > load<f32>(out, 16)) store<f32>(out, x, 16);
  }
}

/** Adds to `last` + 1 counts: the number's place from `least`, in bins `perUnit` a unit, the ends holding. */
export function histogram(n: i32, counts: usize, a: usize, least: f32, perUnit: f32, last: i32): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    const x = load<f32>(a + i);
    if (x - x != 0) continue;
    const bin = max<i32>(0, min<i32>(last, <i32>((x - least) * perUnit)));
    const at = counts + ((<usize>bin) << 2);
    store<i32>(at, load<i32>(at) + 1);
  }
}
