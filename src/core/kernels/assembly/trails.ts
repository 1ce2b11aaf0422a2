/** Curves along which elements have come, filled curve by curve. */
import { partsOfCurve } from "./curve-lengths";

/** Bytes of a moment in the table of trailPoints. */
const MOMENT: usize = 40;

/** Curves that are filled together, so that what is read and written lies close together. */
const TOGETHER: usize = 64;

/**
 * Writes the points of curves first … first + n − 1: by moment, the oldest first, where the element was, if it was there; and then, while
 * they are still at hand, which part of the curve's length lies before them.
 * @param spare as of partsOfCurves @param begins integers by curve, its first point, below 0 for none
 * @param nexts the same, afterwards the one after its last
 * @param table of each moment the addresses of: by curve the number of its element, below 0 for none; lanes x, y, z; red, green, blue,
 *   alpha, 0 for white; and, as floats, how far the moment is through the trail and the rest of that
 * @param x … radius whole lanes, written; those of colours 0 where there are none
 */
export function trailPoints(
  n: i32, first: i32, spare: usize, begins: usize, nexts: usize, table: usize, x: usize, y: usize, z: usize, r: usize, g: usize,
  b: usize, a: usize, aged: usize, radius: usize, along: usize, moments: f32,
): void {
  const end = table + <usize>(<i32>moments) * MOMENT;
  const last = <usize>(first + n);
  for (let from = <usize>first; from < last; from += TOGETHER) {
    const stop = min<usize>(last, from + TOGETHER) << 2;
    let moment = table;
    // Four curves beside each other whose elements are beside each other at four moments are turned over at once.
    for (; moment + 3 * MOMENT < end && !r; moment += 4 * MOMENT) {
      const until = moment + 4 * MOMENT;
      let c = from << 2;
      for (; c + 12 < stop; c += 16)
        if (!fourByFour(nexts + c, c, moment, x, y, z, aged, radius))
          oneByOne(nexts, c, c + 16, moment, until, x, y, z, 0, 0, 0, 0, aged, radius);
      oneByOne(nexts, c, stop, moment, until, x, y, z, 0, 0, 0, 0, aged, radius);
    }
    oneByOne(nexts, from << 2, stop, moment, end, x, y, z, r, g, b, a, aged, radius);
    for (let c = from << 2; c < stop; c += 4) {
      const begin = load<i32>(begins + c);
      if (begin >= 0) partsOfCurve(spare, along, (<usize>begin) << 2, (<usize>load<i32>(nexts + c)) << 2, false, x, y, z);
    }
  }
}

/** The points of some curves at some moments. @param c stop bytes to the first curve, and behind the last */
@inline
function oneByOne(
  nexts: usize, c: usize, stop: usize, moment: usize, end: usize,
  x: usize, y: usize, z: usize, r: usize, g: usize, b: usize, a: usize, aged: usize, radius: usize,
): void {
  for (let m = moment; m < end; m += MOMENT)
    for (let k = c; k < stop; k += 4) onePoint(nexts, k, m, x, y, z, r, g, b, a, aged, radius);
}

/** The point of curve `c` ÷ 4 at a moment, if its element was there. */
@inline
function onePoint(
  nexts: usize, c: usize, moment: usize, x: usize, y: usize, z: usize, r: usize, g: usize, b: usize, a: usize, aged: usize, radius: usize,
): void {
  const next = load<i32>(nexts + c);
  const element = load<i32>(<usize>load<i32>(moment) + c);
  if ((next | element) < 0) return;
  const to = (<usize>next) << 2;
  const at = (<usize>element) << 2;
  store<i32>(nexts + c, next + 1);
  store<f32>(x + to, load<f32>(<usize>load<i32>(moment, 4) + at));
  store<f32>(y + to, load<f32>(<usize>load<i32>(moment, 8) + at));
  store<f32>(z + to, load<f32>(<usize>load<i32>(moment, 12) + at));
  store<f32>(aged + to, load<f32>(moment, 32));
  store<f32>(radius + to, load<f32>(moment, 36));
  if (!r) return;
  const red = <usize>load<i32>(moment, 16);
  store<f32>(r + to, red ? load<f32>(red + at) : 1);
  store<f32>(g + to, red ? load<f32>(<usize>load<i32>(moment, 20) + at) : 1);
  store<f32>(b + to, red ? load<f32>(<usize>load<i32>(moment, 24) + at) : 1);
  store<f32>(a + to, red ? load<f32>(<usize>load<i32>(moment, 28) + at) : 1);
}

/** Whether four numbers are there and follow each other. */
@inline
function followEachOther(elements: v128): bool {
  const first = i32x4.extract_lane(elements, 0);
  return first >= 0 && i32x4.all_true(i32x4.eq(elements, i32x4.add(i32x4.splat(first), i32x4(0, 1, 2, 3))));
}

/** Four points of each of four curves; false, and nothing done, where elements do not lie as that needs. @param c bytes to the first curve */
@inline
function fourByFour(
  nexts: usize, c: usize, moment: usize, x: usize, y: usize, z: usize, aged: usize, radius: usize,
): bool {
  const to = v128.load(nexts);
  if (!i32x4.all_true(i32x4.ge_s(to, i32x4.splat(0)))) return false;
  const m1 = moment + MOMENT;
  const m2 = m1 + MOMENT;
  const m3 = m2 + MOMENT;
  const e0 = v128.load(<usize>load<i32>(moment) + c);
  const e1 = v128.load(<usize>load<i32>(m1) + c);
  const e2 = v128.load(<usize>load<i32>(m2) + c);
  const e3 = v128.load(<usize>load<i32>(m3) + c);
  if (!(followEachOther(e0) && followEachOther(e1) && followEachOther(e2) && followEachOther(e3))) return false;
  const a0 = (<usize>i32x4.extract_lane(e0, 0)) << 2;
  const a1 = (<usize>i32x4.extract_lane(e1, 0)) << 2;
  const a2 = (<usize>i32x4.extract_lane(e2, 0)) << 2;
  const a3 = (<usize>i32x4.extract_lane(e3, 0)) << 2;
  const t0 = (<usize>i32x4.extract_lane(to, 0)) << 2;
  const t1 = (<usize>i32x4.extract_lane(to, 1)) << 2;
  const t2 = (<usize>i32x4.extract_lane(to, 2)) << 2;
  const t3 = (<usize>i32x4.extract_lane(to, 3)) << 2;
  for (let lane: usize = 4; lane <= 12; lane += 4) {
    const out = lane == 4 ? x : lane == 8 ? y : z;
    const v0 = v128.load(<usize>load<i32>(moment + lane) + a0);
    const v1 = v128.load(<usize>load<i32>(m1 + lane) + a1);
    const v2 = v128.load(<usize>load<i32>(m2 + lane) + a2);
    const v3 = v128.load(<usize>load<i32>(m3 + lane) + a3);
    const low01 = v128.shuffle<f32>(v0, v1, 0, 4, 1, 5);
    const high01 = v128.shuffle<f32>(v0, v1, 2, 6, 3, 7);
    const low23 = v128.shuffle<f32>(v2, v3, 0, 4, 1, 5);
    const high23 = v128.shuffle<f32>(v2, v3, 2, 6, 3, 7);
    v128.store(out + t0, v128.shuffle<f32>(low01, low23, 0, 1, 4, 5));
    v128.store(out + t1, v128.shuffle<f32>(low01, low23, 2, 3, 6, 7));
    v128.store(out + t2, v128.shuffle<f32>(high01, high23, 0, 1, 4, 5));
    v128.store(out + t3, v128.shuffle<f32>(high01, high23, 2, 3, 6, 7));
  }
  const share = f32x4(load<f32>(moment, 32), load<f32>(m1, 32), load<f32>(m2, 32), load<f32>(m3, 32));
  const rest = f32x4(load<f32>(moment, 36), load<f32>(m1, 36), load<f32>(m2, 36), load<f32>(m3, 36));
  v128.store(aged + t0, share);
  v128.store(aged + t1, share);
  v128.store(aged + t2, share);
  v128.store(aged + t3, share);
  v128.store(radius + t0, rest);
  v128.store(radius + t1, rest);
  v128.store(radius + t2, rest);
  v128.store(radius + t3, rest);
  v128.store(nexts, i32x4.add(to, i32x4.splat(4)));
  return true;
}
