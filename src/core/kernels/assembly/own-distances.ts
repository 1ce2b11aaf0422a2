/**
 * How far each point of a grid (grid.ts) is from its nearest other one. Every pair of points in cells beside each other is
 * looked at once; the rest, few where points are spread, search the grid.
 */
import { gridNearest } from "./grid";
import { cellsAlong, real, whole } from "./grid-table";

/**
 * The sorted points four by four, 64 bytes each: x, y, z and the square of the way to the nearest one met so far, which is
 * infinite. What is met at once lies together.
 */
export function gridBlocks(n: i32, blocks: usize, grid: usize): void {
  const xs = <usize>whole(grid, 9);
  const ys = <usize>whole(grid, 10);
  const zs = <usize>whole(grid, 11);
  let to = blocks;
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16, to += 64) {
    v128.store(to, v128.load(xs + i));
    v128.store(to, v128.load(ys + i), 16);
    v128.store(to, v128.load(zs + i), 32);
    v128.store(to, f32x4.splat(Infinity), 48);
  }
}

/** Squares of the ways from one place to the four of a block. */
@inline
function squares(block: usize, qx: v128, qy: v128, qz: v128): v128 {
  const dx = f32x4.sub(v128.load(block), qx);
  const dy = f32x4.sub(v128.load(block, 16), qy);
  const dz = f32x4.sub(v128.load(block, 32), qz);
  return f32x4.add(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)), f32x4.mul(dz, dz));
}

/** The same; the four take what is less than theirs. */
@inline
function meet(block: usize, qx: v128, qy: v128, qz: v128): v128 {
  const d = squares(block, qx, qy, qz);
  v128.store(block, f32x4.pmin(v128.load(block, 48), d), 48);
  return d;
}

/** Where the points of a cell and the one after it end; `cell` is the address of its start. */
@inline
function endOf(cell: usize, blocks: usize): usize {
  return blocks + ((<usize>load<i32>(cell, 8)) << 4);
}

/**
 * Those of a cell and the ones before and after it, from the block `next` on. Two blocks in any case, which are mostly
 * enough: what is not guessed is not guessed wrong.
 */
@inline
function meetRow(best: v128, cell: usize, blocks: usize, next: usize, qx: v128, qy: v128, qz: v128): v128 {
  const from = max<usize>(blocks + ((<usize>(load<i32>(cell - 4) & ~3)) << 4), next);
  best = f32x4.pmin(best, meet(from, qx, qy, qz));
  best = f32x4.pmin(best, meet(from + 64, qx, qy, qz));
  for (let at = from + 128, end = endOf(cell, blocks); at < end; at += 64)
    best = f32x4.pmin(best, meet(at, qx, qy, qz));
  return best;
}

/**
 * Sorted points from … from + n − 1, multiples of four, meet those that follow them in the cells around: each takes the square
 * of the way, in its block or in `mine`, if it is less than what is there. Every pair comes up once. Where a row of cells ends
 * the next one's are met as well, which does no harm.
 */
export function gridOwnPairs(from: i32, n: i32, blocks: usize, mine: usize, grid: usize): void {
  const starts = <usize>whole(grid, 8);
  const nx = whole(grid, 4);
  const ny = whole(grid, 5);
  const nz = whole(grid, 6);
  const lx = real(grid, 0);
  const ly = real(grid, 1);
  const lz = real(grid, 2);
  const side = real(grid, 3);
  const row = <usize>nx << 2;
  const layer = <usize>(nx * ny) << 2;
  const above = max<usize>(layer - row, 4);
  for (let i = (<usize>from) << 2, stop = (<usize>(from + n)) << 2; i < stop; i += 16) {
    const own = blocks + (i << 2);
    const next = own + 64;
    const cx = cellsAlong(v128.load(own), lx, side, nx);
    const cy = cellsAlong(v128.load(own, 16), ly, side, ny);
    const cz = cellsAlong(v128.load(own, 32), lz, side, nz);
    const cells = i32x4.add(i32x4.mul(i32x4.add(i32x4.mul(cz, i32x4.splat(ny)), cy), i32x4.splat(nx)), cx);
    // Where their cells' starts are, until what is found takes their place.
    v128.store(mine + i, i32x4.add(i32x4.splat(<i32>starts), i32x4.shl(cells, 2)));
    for (let j: usize = 0; j < 16; j += 4) {
      const cell = <usize>load<i32>(mine + i + j);
      const qx = v128.load32_splat(own + j);
      const qy = v128.load32_splat(own + j, 16);
      const qz = v128.load32_splat(own + j, 32);
      // Not itself: what is no number is never less.
      const self = i32x4.eq(i32x4(0, 4, 8, 12), i32x4.splat(<i32>j));
      let best = f32x4.pmin(f32x4.splat(Infinity), v128.or(squares(own, qx, qy, qz), self));
      best = f32x4.pmin(best, meet(next, qx, qy, qz));
      for (let at = next + 64, end = endOf(cell, blocks); at < end; at += 64)
        best = f32x4.pmin(best, meet(at, qx, qy, qz));
      best = meetRow(best, cell + row, blocks, next, qx, qy, qz);
      best = meetRow(best, cell + above, blocks, next, qx, qy, qz);
      best = meetRow(best, cell + layer, blocks, next, qx, qy, qz);
      best = meetRow(best, cell + layer + row, blocks, next, qx, qy, qz);
      best = f32x4.pmin(best, v128.shuffle<f32>(best, best, 2, 3, 0, 1));
      best = f32x4.pmin(best, v128.shuffle<f32>(best, best, 1, 0, 3, 2));
      store<f32>(mine + i + j, f32x4.extract_lane(best, 0));
    }
  }
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
 * Distance of each sorted point from … from + n − 1 to its nearest other one, by what gridOwnPairs left, written where the
 * point stood before sorting; infinite where there is none. `from` is a multiple of four; `spare` holds four words.
 */
export function gridOwnDistances(
  from: i32, n: i32, out: usize, blocks: usize, mine: usize, grid: usize, spare: usize,
): void {
  const numbers = <usize>whole(grid, 12);
  const side = real(grid, 3);
  const near = f32x4.splat(side * side * HAIR_LESS);
  for (let i = (<usize>from) << 2, stop = (<usize>(from + n)) << 2; i < stop; i += 16) {
    const block = blocks + (i << 2);
    const squared = f32x4.pmin(v128.load(block, 48), v128.load(mine + i));
    v128.store(mine + i, f32x4.sqrt(squared));
    // What lies beyond the cells around is a side away at least.
    if (i + 16 <= stop && i32x4.all_true(f32x4.lt(squared, near))) {
      for (let j: usize = 0; j < 16; j += 4)
        store<f32>(out + ((<usize>load<i32>(numbers + i + j)) << 2), load<f32>(mine + i + j));
      continue;
    }
    const margin = f32x4.pmin(
      marginAlong(v128.load(block), real(grid, 0), side, whole(grid, 4)),
      f32x4.pmin(
        marginAlong(v128.load(block, 16), real(grid, 1), side, whole(grid, 5)),
        marginAlong(v128.load(block, 32), real(grid, 2), side, whole(grid, 6)),
      ),
    );
    // There may be a nearer one further out.
    const sure = i32x4.bitmask(f32x4.lt(squared, f32x4.mul(f32x4.mul(margin, margin), f32x4.splat(HAIR_LESS))));
    for (let j: usize = 0, bit = 1; j < 16; j += 4, bit <<= 1) {
      if (i + j >= stop) break;
      const number = load<i32>(numbers + i + j);
      const to = out + ((<usize>number) << 2);
      if (sure & bit) {
        store<f32>(to, load<f32>(mine + i + j));
        continue;
      }
      store<f32>(spare, <f32>number);
      gridNearest(1, spare + 4, spare + 8, block + j, block + j + 16, block + j + 32, spare, grid, 1, 1, Infinity);
      store<f32>(to, Mathf.sqrt(load<f32>(spare + 4)));
    }
  }
}
