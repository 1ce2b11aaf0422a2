/** How far along their curves points are. */

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

/** Writes, as doubles, how long the ways are from each point of a part of a curve to the next; one more may be written. */
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
const CHUNK: usize = 2048;

/** Writes, as doubles, how long a curve is from its beginning to each next point of a part of it. @returns the last of them */
@inline
function writeTravelled(travelled: usize, x: usize, y: usize, z: usize, begin: usize, end: usize, before: f64): f64 {
  writeWays(travelled, x, y, z, begin, end);
  let sum = before;
  for (let at = travelled, stop = travelled + ((end - begin) << 1); at < stop; at += 8) {
    sum += load<f64>(at);
    store<f64>(at, sum);
  }
  return sum;
}

/**
 * Which part of a curve's length lies before each of its points; 0 where it has no length.
 * @param begin end bytes of its points within lanes @param closes whether it goes on from its last point to its first
 */
@inline
export function partsOfCurve(
  spare: usize, along: usize, begin: usize, end: usize, closes: bool, x: usize, y: usize, z: usize,
): void {
  const last = end - 4;
  let length: f64 = 0;
  for (let from = begin; from < last; from += CHUNK)
    length = writeTravelled(spare, x, y, z, from, min<usize>(last, from + CHUNK), length);
  if (closes && end - begin > 8) length += way(x, y, z, last, begin);
  store<f32>(along + begin, 0);
  if (!(length > 0)) {
    memory.fill(along + begin, 0, end - begin);
    return;
  }
  const lengths = f64x2.splat(length);
  let travelled: f64 = 0;
  for (let from = begin; from < last; from += CHUNK) {
    const until = min<usize>(last, from + CHUNK);
    if (last - begin > CHUNK) travelled = writeTravelled(spare, x, y, z, from, until, travelled);
    let at = spare;
    let p = from;
    for (; p + 4 < until; p += 8, at += 16)
      v128.store64_lane(along + p, f32x4.demote_f64x2_zero(f64x2.div(v128.load(at), lengths)), 0, 4);
    if (p < until) store<f32>(along + p, <f32>(load<f64>(at) / length), 4);
  }
}

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
    if (begin < end) partsOfCurve(spare, along, begin, end, load<i32>(closed + c) != 0, x, y, z);
  }
}
