/** What a lane of numbers is like as a whole. Only the first n count, and of those the finite ones. */

/** Infinite ones become no number, which is neither less nor greater than anything. */
@inline
function finiteOnly(x: v128): v128 {
  // x − x is 0 for finite numbers alone.
  return v128.or(x, f32x4.ne(f32x4.sub(x, x), f32x4.splat(0)));
}

/** Joins with what `out` holds: the least and the greatest, four of each. */
export function leastAndGreatest(n: i32, out: usize, a: usize): void {
  let low = v128.load(out);
  let high = v128.load(out, 16);
  // Two of each, as one would wait for itself.
  let low2 = low;
  let high2 = high;
  const pairs = (<usize>(n & ~7)) << 2;
  for (let i: usize = 0; i < pairs; i += 32) {
    const x = finiteOnly(v128.load(a + i));
    const x2 = finiteOnly(v128.load(a + i, 16));
    low = f32x4.pmin(low, x);
    high = f32x4.pmax(high, x);
    low2 = f32x4.pmin(low2, x2);
    high2 = f32x4.pmax(high2, x2);
  }
  for (let i = pairs, end = (<usize>n) << 2; i < end; i += 4) {
    const x = finiteOnly(v128.load32_splat(a + i));
    low = f32x4.pmin(low, x);
    high = f32x4.pmax(high, x);
  }
  v128.store(out, f32x4.pmin(low, low2));
  v128.store(out, f32x4.pmax(high, high2), 16);
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
