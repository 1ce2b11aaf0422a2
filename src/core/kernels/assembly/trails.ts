/** Curves along which elements have come, filled curve by curve, and how far along their curves points are. */

/** Bytes of a moment in the table of trailPoints. */
const MOMENT: usize = 36;

/** Curves that are filled together, so that what is read and written lies close together. */
const TOGETHER: usize = 32;

/**
 * Writes the points of curves first … first + n − 1: by moment, the oldest first, where the element was, if it was there.
 * @param nexts integers by curve, its first point, below 0 for none; afterwards the one after its last
 * @param table of each moment the addresses of: by curve the number of its element, below 0 for none; lanes x, y, z; red, green, blue,
 *   alpha, 0 for white; and, as a float, how far the moment is through the trail
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
        store<f32>(radius + to, 1 - share);
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

/** Two numbers of a lane as doubles. */
@inline
function two(lane: usize): v128 {
  return f64x2.promote_low_f32x4(v128.load64_zero(lane));
}

/** Units from a point to another, both as addresses within lanes. */
@inline
function way(x: usize, y: usize, z: usize, p: usize, q: usize): f64 {
  const dx = <f64>load<f32>(x + q) - <f64>load<f32>(x + p);
  const dy = <f64>load<f32>(y + q) - <f64>load<f32>(y + p);
  const dz = <f64>load<f32>(z + q) - <f64>load<f32>(z + p);
  return Math.sqrt(dx * dx + dy * dy + dz * dz);
}

/** Writes, as doubles, how long the ways are from each point of a stretch to the next; one more may be written. */
@inline
function writeWays(ways: usize, x: usize, y: usize, z: usize, begin: usize, end: usize): void {
  for (let p = begin, to = ways; p < end; p += 8, to += 16) {
    const dx = f64x2.sub(two(x + p + 4), two(x + p));
    const dy = f64x2.sub(two(y + p + 4), two(y + p));
    const dz = f64x2.sub(two(z + p + 4), two(z + p));
    v128.store(to, f64x2.sqrt(f64x2.add(f64x2.add(f64x2.mul(dx, dx), f64x2.mul(dy, dy)), f64x2.mul(dz, dz))));
  }
}

/** Bytes of a lane whose ways are kept: those of longer curves are worked out twice. */
const STRETCH: usize = 2048;

/**
 * Which part of its curve's length lies before each point of curves first … first + n − 1; 0 where a curve has no length. A closed
 * curve comes to 1 at its beginning only.
 * @param spare room for 514 doubles @param along whole lane, written @param starts integers, one more than curves
 * @param closed integers by curve @param x y z whole lanes, with three more numbers to be read at the end
 */
export function partsOfCurves(
  n: i32, first: i32, spare: usize, along: usize, starts: usize, closed: usize, x: usize, y: usize, z: usize,
): void {
  for (let c = (<usize>first) << 2, stop = (<usize>(first + n)) << 2; c < stop; c += 4) {
    const begin = (<usize>load<i32>(starts + c)) << 2;
    const end = (<usize>load<i32>(starts + c, 4)) << 2;
    if (begin == end) continue;
    const last = end - 4;
    let length: f64 = 0;
    for (let from = begin; from < last; from += STRETCH) {
      const until = min<usize>(last, from + STRETCH);
      writeWays(spare, x, y, z, from, until);
      for (let p = from, at = spare; p < until; p += 4, at += 8) length += load<f64>(at);
    }
    if (load<i32>(closed + c) && end - begin > 8) length += way(x, y, z, last, begin);
    store<f32>(along + begin, 0);
    let travelled: f64 = 0;
    for (let from = begin; from < last; from += STRETCH) {
      const until = min<usize>(last, from + STRETCH);
      if (last - begin > STRETCH) writeWays(spare, x, y, z, from, until);
      for (let p = from, at = spare; p < until; p += 4, at += 8) {
        travelled += load<f64>(at);
        store<f32>(along + p, length > 0 ? <f32>(travelled / length) : 0, 4);
      }
    }
  }
}
