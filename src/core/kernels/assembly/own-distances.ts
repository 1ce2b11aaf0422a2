/**
 * How far each point of a grid (grid.ts) is from its nearest other one. Points of cells beside each other meet once, two at a
 * time with a block of four; the rest, few where points are spread, search the grid.
 */
import { gridNearest } from "./grid";
import { cellsAlong, cellsOf, NUMBERS, real, whole } from "./grid-table";

/** Squares of the ways between places, four by four. */
@inline
function squares(x: v128, y: v128, z: v128, qx: v128, qy: v128, qz: v128): v128 {
  const dx = f32x4.sub(x, qx);
  const dy = f32x4.sub(y, qy);
  const dz = f32x4.sub(z, qz);
  return f32x4.add(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)), f32x4.mul(dz, dz));
}

/** Four of which each takes the place of the one before, or of the one two before. */
@inline
function turned(v: v128): v128 {
  return v128.shuffle<f32>(v, v, 1, 2, 3, 0);
}

@inline
function turnedTwice(v: v128): v128 {
  return v128.shuffle<f32>(v, v, 2, 3, 0, 1);
}

/** Of the four of a block, how near each is to another of them, squared, if that is less than what it has. */
@inline
function meetEachOther(best: v128, x: v128, y: v128, z: v128): v128 {
  const once = squares(x, y, z, turned(x), turned(y), turned(z));
  const twice = squares(x, y, z, turnedTwice(x), turnedTwice(y), turnedTwice(z));
  // What is no number comes second: it is never less.
  best = f32x4.pmin(best, once);
  best = f32x4.pmin(best, v128.shuffle<f32>(once, once, 3, 0, 1, 2));
  return f32x4.pmin(best, twice);
}

/** Where the points of a cell and the one after it end, as bytes of a lane of all; `cell` is the address of its start. */
@inline
function endOf(cell: usize): usize {
  return (<usize>load<i32>(cell, 8)) << 2;
}

/** Begin and end of a stretch of blocks: the cells from `first`, and the one before, to `last`, and the one after. */
@inline
function stretch(to: usize, first: usize, last: usize, next: usize): void {
  store<usize>(to, max<usize>((<usize>(load<i32>(first - 4) & ~3)) << 2, next));
  store<usize>(to, endOf(last), 4);
}

/**
 * The five stretches of those that follow, from the block `next` on: in the own row of cells, in the next, and in three of the
 * layer above.
 */
@inline
function stretches(to: usize, first: usize, last: usize, next: usize, row: usize, layer: usize): void {
  store<usize>(to, next);
  store<usize>(to, endOf(last), 4);
  stretch(to + 8, first + row, last + row, next);
  // Where a layer is one row, this is the own one again.
  const before = max<usize>(layer - row, 4);
  stretch(to + 16, first + before, last + before, next);
  stretch(to + 24, first + layer, last + layer, next);
  stretch(to + 32, first + layer + row, last + layer + row, next);
}

/**
 * Two points that follow each other meet five stretches of blocks, one block of each at least: the squares of the ways to their
 * nearest, each twice. Those they meet take the square if it is less than what they have in `best`. Ends are read from memory
 * that was written before, so that wrong guesses of how long a stretch is show early.
 */
@inline
function meet(point: usize, stretches: usize, blocks: usize, best: usize): v128 {
  const ax = v128.load32_splat(point);
  const ay = v128.load32_splat(point, 16);
  const az = v128.load32_splat(point, 32);
  const bx = v128.load32_splat(point, 4);
  const by = v128.load32_splat(point, 20);
  const bz = v128.load32_splat(point, 36);
  let a = f32x4.splat(Infinity);
  let b = a;
  for (let s = stretches, stop = stretches + 40; s < stop; s += 8) {
    let at = load<usize>(s);
    const end = load<usize>(s, 4);
    do {
      const block = blocks + (at << 2);
      const x = v128.load(block);
      const y = v128.load(block, 16);
      const z = v128.load(block, 32);
      const toA = squares(x, y, z, ax, ay, az);
      const toB = squares(x, y, z, bx, by, bz);
      a = f32x4.pmin(a, toA);
      b = f32x4.pmin(b, toB);
      v128.store(best + at, f32x4.pmin(f32x4.pmin(v128.load(best + at), toA), toB));
      at += 16;
    } while (at < end);
  }
  const both = f32x4.pmin(v128.shuffle<f32>(a, b, 0, 1, 4, 5), v128.shuffle<f32>(a, b, 2, 3, 6, 7));
  return f32x4.pmin(both, v128.shuffle<f32>(both, both, 1, 0, 3, 2));
}

/** For rounding. */
const HAIR_LESS: f32 = 0.9999;

/** How far places are from what lies beyond the cells around their own, along one axis; where the grid ends nothing does. */
@inline
function marginAlong(v: v128, least: f32, side: f32, cells: i32): v128 {
  const at = f32x4.convert_i32x4_s(cellsAlong(v, least, side, cells));
  const s = f32x4.splat(side);
  const away = f32x4.sub(f32x4.sub(v, f32x4.splat(least)), f32x4.mul(at, s));
  const infinite = f32x4.splat(Infinity);
  return f32x4.pmin(
    v128.bitselect(f32x4.add(away, s), infinite, f32x4.gt(at, f32x4.splat(1))),
    v128.bitselect(f32x4.sub(f32x4.add(s, s), away), infinite, f32x4.lt(at, f32x4.splat(<f32>(cells - 2)))),
  );
}

/**
 * Distance of each sorted point from … from + n − 1 to its nearest other one, written where the point stood before sorting;
 * infinite where there is none. To be called from the first point to the last, `from` a multiple of four: a block meets those
 * that follow in the cells around, so that it knows all when its turn comes. Between the cells of two points that follow each
 * other there are no points, so both meet what lies around all of these; beyond the end of a row of cells that is the next
 * one's, which does no harm. `best` is infinite at first, for all points in whole blocks and eight more; `spare` holds 24 words.
 */
export function gridOwnDistances(from: i32, n: i32, out: usize, best: usize, grid: usize, spare: usize): void {
  const blocks = <usize>whole(grid, 9);
  const starts = <usize>whole(grid, 8);
  const side = real(grid, 3);
  const row = <usize>whole(grid, 4) << 2;
  const layer = row * <usize>whole(grid, 5);
  const near = f32x4.splat(side * side * HAIR_LESS);
  for (let i = (<usize>from) << 2, stop = (<usize>(from + n)) << 2; i < stop; i += 16) {
    const own = blocks + (i << 2);
    const x = v128.load(own);
    const y = v128.load(own, 16);
    const z = v128.load(own, 32);
    const cells = cellsOf(x, y, z, grid);
    v128.store(spare, i32x4.add(i32x4.splat(<i32>starts), i32x4.shl(cells, 2)));
    stretches(spare + 16, load<usize>(spare), load<usize>(spare, 4), i + 16, row, layer);
    stretches(spare + 56, load<usize>(spare, 8), load<usize>(spare, 12), i + 16, row, layer);
    const ab = meet(own, spare + 16, blocks, best);
    const cd = meet(own + 8, spare + 56, blocks, best);
    const met = f32x4.pmin(v128.load(best + i), v128.shuffle<f32>(ab, cd, 0, 2, 4, 6));
    const squared = meetEachOther(met, x, y, z);
    v128.store(spare, f32x4.sqrt(squared));
    // What lies beyond the cells around is a side away at least.
    if (i + 16 <= stop && i32x4.all_true(f32x4.lt(squared, near))) {
      for (let j: usize = 0; j < 16; j += 4)
        store<f32>(out + ((<usize>load<i32>(own + j, NUMBERS)) << 2), load<f32>(spare + j));
      continue;
    }
    const margin = f32x4.pmin(
      marginAlong(x, real(grid, 0), side, whole(grid, 4)),
      f32x4.pmin(
        marginAlong(y, real(grid, 1), side, whole(grid, 5)),
        marginAlong(z, real(grid, 2), side, whole(grid, 6)),
      ),
    );
    // There may be a nearer one further out.
    const sure = i32x4.bitmask(f32x4.lt(squared, f32x4.mul(f32x4.mul(margin, margin), f32x4.splat(HAIR_LESS))));
    for (let j: usize = 0, bit = 1; j < min<usize>(16, stop - i); j += 4, bit <<= 1) {
      const point = own + j;
      const to = out + ((<usize>load<i32>(point, NUMBERS)) << 2);
      if (sure & bit) {
        store<f32>(to, load<f32>(spare + j));
        continue;
      }
      const self = point + NUMBERS;
      gridNearest(1, spare + 16, spare + 20, point, point + 16, point + 32, self, grid, 1, 2, Infinity);
      store<f32>(to, Mathf.sqrt(load<f32>(spare + 16)));
    }
  }
}
