/** Curves along which elements have come, filled curve by curve. */

/** Bytes of a moment in the table of trailPoints. */
const MOMENT: usize = 40;

/** Curves that are filled together, so that what is read and written lies close together. */
const TOGETHER: usize = 32;

/**
 * Writes the points of curves first … first + n − 1: by moment, the oldest first, where the element was, if it was there.
 * @param nexts integers by curve, its first point, below 0 for none; afterwards the one after its last
 * @param table of each moment the addresses of: by curve the number of its element, below 0 for none; lanes x, y, z; red, green, blue,
 *   alpha, 0 for white; and, as floats, how far the moment is through the trail and the rest of that
 * @param x … radius whole lanes, written; those of colours 0 where there are none
 */
export function trailPoints(
  n: i32, first: i32, nexts: usize, table: usize, x: usize, y: usize, z: usize, r: usize, g: usize, b: usize, a: usize,
  aged: usize, radius: usize, moments: f32,
): void {
  const end = table + <usize>(<i32>moments) * MOMENT;
  const last = <usize>(first + n);
  for (let from = <usize>first; from < last; from += TOGETHER) {
    const stop = min<usize>(last, from + TOGETHER) << 2;
    for (let moment = table; moment < end; moment += MOMENT) {
      const places = <usize>load<i32>(moment);
      const mx = <usize>load<i32>(moment, 4);
      const my = <usize>load<i32>(moment, 8);
      const mz = <usize>load<i32>(moment, 12);
      const share = load<f32>(moment, 32);
      const rest = load<f32>(moment, 36);
      for (let c = from << 2; c < stop; c += 4) {
        const next = load<i32>(nexts + c);
        const element = load<i32>(places + c);
        if ((next | element) < 0) continue;
        const to = (<usize>next) << 2;
        const at = (<usize>element) << 2;
        store<i32>(nexts + c, next + 1);
        store<f32>(x + to, load<f32>(mx + at));
        store<f32>(y + to, load<f32>(my + at));
        store<f32>(z + to, load<f32>(mz + at));
        store<f32>(aged + to, share);
        store<f32>(radius + to, rest);
        if (!r) continue;
        const red = <usize>load<i32>(moment, 16);
        store<f32>(r + to, red ? load<f32>(red + at) : 1);
        store<f32>(g + to, red ? load<f32>(<usize>load<i32>(moment, 20) + at) : 1);
        store<f32>(b + to, red ? load<f32>(<usize>load<i32>(moment, 24) + at) : 1);
        store<f32>(a + to, red ? load<f32>(<usize>load<i32>(moment, 28) + at) : 1);
      }
    }
  }
}
