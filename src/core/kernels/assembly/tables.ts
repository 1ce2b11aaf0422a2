/** Look-up in tables over 0…1, mixed linearly between entries; the ends hold, NaN reads the first entry. */

/** A table of `last` + 1 numbers. */
export function lookup(n: i32, out: usize, x: usize, table: usize, last: i32): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    const at = place(load<f32>(x + i), last);
    const low = min<i32>(last - 1, <i32>at);
    const t = at - <f32>low;
    const k = table + ((<usize>low) << 2);
    const from = load<f32>(k);
    store<f32>(out + i, from + t * (load<f32>(k + 4) - from));
  }
}

/** A table of `last` + 1 colours of four numbers. */
export function gradient(
  n: i32, red: usize, green: usize, blue: usize, alpha: usize, x: usize, table: usize, last: i32,
): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    const at = place(load<f32>(x + i), last);
    const low = min<i32>(last - 1, <i32>at);
    const t = f32x4.splat(at - <f32>low);
    const k = table + ((<usize>low) << 4);
    const from = v128.load(k);
    const mixed = f32x4.add(from, f32x4.mul(t, f32x4.sub(v128.load(k + 16), from)));
    store<f32>(red + i, f32x4.extract_lane(mixed, 0));
    store<f32>(green + i, f32x4.extract_lane(mixed, 1));
    store<f32>(blue + i, f32x4.extract_lane(mixed, 2));
    store<f32>(alpha + i, f32x4.extract_lane(mixed, 3));
  }
}

@inline
function place(x: f32, last: i32): f32 {
  const at = x > 0 ? x : 0;
  return (at < 1 ? at : 1) * <f32>last;
}
