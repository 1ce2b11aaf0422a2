/** Points of a grid (grid.ts) that push each other apart: read cell by cell, so that those around a cell are found once. */
import { BLOCK, inBlocks, NUMBERS, real, whole } from "./grid-table";
import { SPREAD_X, SPREAD_Y, SPREAD_Z, mixedOne } from "./hashing";
import { sum } from "./vectors";

/** Cells x y z of a place, as gridCells has them. */
@inline
function cellOf(place: v128, least: v128, side: v128, last: v128): v128 {
  const at = i32x4.trunc_sat_f32x4_s(f32x4.div(f32x4.sub(place, least), side));
  return i32x4.max_s(i32x4.splat(0), i32x4.min_s(last, at));
}

/**
 * Writes the stretches of sorted points (from … until) in the rows of cells around a cell, up to `ring` cells
 * away, those that are empty left out; gives how many.
 */
@inline
function stretchesAround(spans: usize, cells: v128, ring: v128, grid: usize): i32 {
  const nx = whole(grid, 4);
  const ny = whole(grid, 5);
  const nz = whole(grid, 6);
  const starts = <usize>whole(grid, 8);
  const low = i32x4.max_s(i32x4.splat(0), i32x4.sub(cells, ring));
  const high = i32x4.min_s(i32x4(nx - 1, ny - 1, nz - 1, 0), i32x4.add(cells, ring));
  const x0 = i32x4.extract_lane(low, 0);
  const x1 = i32x4.extract_lane(high, 0) + 1;
  const y1 = i32x4.extract_lane(high, 1);
  const z1 = i32x4.extract_lane(high, 2);
  let count = 0;
  for (let z = i32x4.extract_lane(low, 2); z <= z1; z++) {
    for (let y = i32x4.extract_lane(low, 1); y <= y1; y++) {
      const row = starts + ((<usize>((z * ny + y) * nx)) << 2);
      const from = load<i32>(row + ((<usize>x0) << 2));
      const until = load<i32>(row + ((<usize>x1) << 2));
      const at = spans + ((<usize>count) << 3);
      store<i32>(at, from);
      store<i32>(at + 4, until);
      count += i32(from < until);
    }
  }
  return count;
}

/** Of a lane what the sorted points from … from + n − 1 have, in their order. */
export function gridOrdered(from: i32, n: i32, out: usize, lane: usize, grid: usize): void {
  const blocks = <usize>whole(grid, 9);
  for (let i = from, stop = from + n; i < stop; i++) {
    const number = load<i32>(blocks + inBlocks(i), NUMBERS);
    store<f32>(out + ((<usize>i) << 2), load<f32>(lane + ((<usize>number) << 2)));
  }
}

/** −0.5 … 0.5 of two numbers, the same whichever comes first but for its sign. */
@inline
function aside(a: i32, b: i32, spread: i32): f32 {
  const hash = mixedOne(mixedOne(min<i32>(a, b) * spread) ^ max<i32>(a, b));
  const v = <f32>(hash >>> 8) * 5.9604644775390625e-8 - 0.5;
  return a < b ? v : -v;
}

/** Nearer than this two points stand on one place, units squared. */
const SAME: f32 = 1e-18;

/**
 * Moves sorted points from … from + n − 1 away from those that they overlap, by `strength` of what each has to give way; `ring`
 * is how many cells away there may be one. `room` and `held` are in sorted order, with three more at the end; new places go
 * where points stood before sorting. Gives how many overlap. `spans` holds two words for every row of cells around a cell.
 */
export function gridPush(
  from: i32, n: i32, x: usize, y: usize, z: usize, grid: usize, room: usize, held: usize, ring: i32, strength: f32, spans: usize,
): i32 {
  const blocks = <usize>whole(grid, 9);
  const least = f32x4(real(grid, 0), real(grid, 1), real(grid, 2), 0);
  const side = f32x4.splat(real(grid, 3));
  const last = i32x4(whole(grid, 4) - 1, whole(grid, 5) - 1, whole(grid, 6) - 1, 0);
  const rings = i32x4(ring, ring, ring, 0);
  const steps = i32x4(0, 1, 2, 3);
  const tiny = f32x4.splat(SAME);
  let known = i32x4.splat(-1);
  let count = 0;
  let overlapping = 0;
  for (let i = from, stop = from + n; i < stop; i++) {
    const point = blocks + inBlocks(i);
    const px = load<f32>(point);
    const py = load<f32>(point, 16);
    const pz = load<f32>(point, 32);
    const number = load<i32>(point, NUMBERS);
    const to = (<usize>number) << 2;
    const cell = cellOf(f32x4(px, py, pz, 0), least, side, last);
    if (i32x4.all_true(i32x4.eq(cell, known)) == 0) {
      known = cell;
      count = stretchesAround(spans, cell, rings, grid);
    }
    const own = load<f32>(room + ((<usize>i) << 2));
    const stays = load<f32>(held + ((<usize>i) << 2));
    const qx = f32x4.splat(px);
    const qy = f32x4.splat(py);
    const qz = f32x4.splat(pz);
    const mine = f32x4.splat(own);
    // What of an overlap is this one's: 1 − held, of 2 − both.
    const gives = f32x4.splat(1 - stays);
    const both = f32x4.splat(2 - stays);
    const self = i32x4.splat(i);
    let sx = f32x4.splat(0);
    let sy = f32x4.splat(0);
    let sz = f32x4.splat(0);
    let met = 0;
    for (let s: usize = 0, all = (<usize>count) << 3; s < all; s += 8) {
      const first = load<i32>(spans + s);
      const end = load<i32>(spans + s + 4);
      for (let at = first & ~3; at < end; at += 4) {
        const block = blocks + inBlocks(at);
        const lane = (<usize>at) << 2;
        const dx = f32x4.sub(qx, v128.load(block));
        const dy = f32x4.sub(qy, v128.load(block, 16));
        const dz = f32x4.sub(qz, v128.load(block, 32));
        const d = f32x4.add(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)), f32x4.mul(dz, dz));
        const apart = f32x4.add(mine, v128.load(room + lane));
        const share = f32x4.sub(both, v128.load(held + lane));
        const places = i32x4.add(i32x4.splat(at), steps);
        // Those of other cells, at both ends of a stretch, come up there.
        const here = v128.and(i32x4.ge_s(places, i32x4.splat(first)), i32x4.lt_s(places, i32x4.splat(end)));
        const counts = v128.andnot(
          v128.and(v128.and(f32x4.lt(d, f32x4.mul(apart, apart)), here), f32x4.gt(share, f32x4.splat(0))),
          i32x4.eq(places, self),
        );
        const found = i32x4.bitmask(counts);
        if (found == 0) continue;
        met += popcnt(found);
        const together = found & i32x4.bitmask(f32x4.lt(d, tiny));
        const far = f32x4.sqrt(f32x4.pmax(d, tiny));
        // (apart − far) ÷ far ÷ share × what this one gives
        const by = f32x4.mul(f32x4.div(f32x4.sub(apart, far), f32x4.mul(far, share)), gives);
        const pushed = v128.andnot(counts, f32x4.lt(d, tiny));
        sx = f32x4.add(sx, v128.and(f32x4.mul(dx, by), pushed));
        sy = f32x4.add(sy, v128.and(f32x4.mul(dy, by), pushed));
        sz = f32x4.add(sz, v128.and(f32x4.mul(dz, by), pushed));
        if (together == 0) continue;
        // Those on one place go some way that is always the same.
        for (let j: usize = 0, bits = together; bits; j += 4, bits >>= 1) {
          if ((bits & 1) == 0) continue;
          const other = load<i32>(block + j, NUMBERS);
          const ax = aside(number, other, SPREAD_X);
          const ay = aside(number, other, SPREAD_Y);
          const az = aside(number, other, SPREAD_Z);
          const length = max<f32>(Mathf.sqrt(ax * ax + ay * ay + az * az), 1e-6);
          const part = ((own + load<f32>(room + lane + j)) * (1 - stays)) / (2 - stays - load<f32>(held + lane + j)) / length;
          sx = f32x4.add(sx, f32x4(ax * part, 0, 0, 0));
          sy = f32x4.add(sy, f32x4(ay * part, 0, 0, 0));
          sz = f32x4.add(sz, f32x4(az * part, 0, 0, 0));
        }
      }
    }
    overlapping += met;
    if (met == 0) continue;
    store<f32>(x + to, px + sum(sx) * strength);
    store<f32>(y + to, py + sum(sy) * strength);
    store<f32>(z + to, pz + sum(sz) * strength);
  }
  return overlapping;
}
