/**
 * Points sorted into the cells of an even grid (counting sort), and who is near a place. A grid is a table of 16 words:
 *
 *     0–2  least x y z      3  side of a cell      4–6  cells along x y z (whole)   7  number of points (whole)
 *     8    address of starts: the points of cell c are starts[c] … starts[c + 1] − 1; one more layer and row of cells follow,
 *          which are empty
 *     9    address of the points in that order, in blocks of four (grid-table.ts): a point is one cache line, whoever asks.
 *          The twelve after the last one are far from everything
 *     10   address of where each number stands in that order, or 0
 *
 * Cells along x follow each other, so a row of cells is one stretch of points.
 */
import { BLOCK, cellAlong, cellsOf, inBlocks, inSteps, NUMBERS, real, whole } from "./grid-table";

/** The cell of every point; adds one to what stands two places after each cell's own start. */
export function gridCells(n: i32, cells: usize, x: usize, y: usize, z: usize, grid: usize): void {
  const starts = <usize>whole(grid, 8);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    v128.store(cells + i, cellsOf(v128.load(x + i), v128.load(y + i), v128.load(z + i), grid));
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    const count = starts + ((<usize>load<i32>(cells + i) + 2) << 2);
    store<i32>(count, load<i32>(count) + 1);
  }
}

/** Counts to starts, each standing one place after its own, as gridOrder takes them: n + 1 of them, the first 0. */
export function gridStarts(n: i32, starts: usize): void {
  let sum = 0;
  for (let c: usize = 0, end = (<usize>n) << 2; c <= end; c += 4) {
    sum += load<i32>(starts + c);
    store<i32>(starts + c, sum);
  }
}

/**
 * The order of points by cells, into `order`; `first` is the number of the first of these. A start that stands one place after
 * its own moves on with every point, and is in the end the start of the cell after.
 */
export function gridOrder(n: i32, first: i32, cells: usize, order: usize, grid: usize): void {
  const next = <usize>whole(grid, 8) + 4;
  const places = <usize>whole(grid, 10);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    const cell = next + ((<usize>load<i32>(cells + i)) << 2);
    const at = load<i32>(cell);
    store<i32>(cell, at + 1);
    const number = first + <i32>(i >> 2);
    store<i32>(order + ((<usize>at) << 2), number);
    if (places) store<i32>(places + ((<usize>number) << 2), at);
  }
}

/**
 * Brings points from … from + n − 1 of the order to their blocks. They are fetched from anywhere and put down in a row: many
 * that are read at once wait for memory together, those written one after the other.
 */
export function gridBlocks(from: i32, n: i32, order: usize, x: usize, y: usize, z: usize, grid: usize): void {
  const blocks = <usize>whole(grid, 9);
  for (let i = from, end = from + n; i < end; i++) {
    const number = load<i32>(order + ((<usize>i) << 2));
    const point = (<usize>number) << 2;
    const to = blocks + inBlocks(i);
    store<f32>(to, load<f32>(x + point));
    store<f32>(to, load<f32>(y + point), 16);
    store<f32>(to, load<f32>(z + point), 32);
    store<i32>(to, number, NUMBERS);
  }
}

/** How far a place is from what lies beyond cells low … high along one axis; far where nothing lies there. */
@inline
function beyond(v: f32, least: f32, side: f32, low: i32, high: i32, cells: i32): f32 {
  let far = f32.MAX_VALUE;
  if (low > 0) far = v - (least + <f32>low * side);
  if (high < cells - 1) far = min<f32>(far, least + <f32>(high + 1) * side - v);
  return far;
}

/** The best that a search has so far: squared distances ascending, at equal ones the lower number first. */
@inline
function insert(distances: usize, numbers: usize, k: i32, d: f32, number: i32): void {
  let at = <usize>(k - 1) << 2;
  const worst = load<f32>(distances + at);
  if (d > worst || (d == worst && number >= load<i32>(numbers + at) && load<i32>(numbers + at) >= 0)) return;
  while (at > 0) {
    const before = load<f32>(distances + at - 4);
    const other = load<i32>(numbers + at - 4);
    if (before < d || (before == d && other < number)) break;
    store<f32>(distances + at, before);
    store<i32>(numbers + at, other);
    at -= 4;
  }
  store<f32>(distances + at, d);
  store<i32>(numbers + at, number);
}

/** The number of a point that is not to be found: its own, which `self` holds as a float (1) or, in blocks, whole (2); none (0). */
@inline
function ownNumber(own: i32, self: usize): i32 {
  return own == 0 ? -1 : own == 1 ? <i32>load<f32>(self) : load<i32>(self);
}

/** Rows around the own one, in the order own, beside it, at the corners: −1, 0 or 1 along y and z. */
@inline
function rowY(row: i32): i32 {
  return row == 0 ? 0 : row < 5 ? (row == 1 ? -1 : row == 2 ? 1 : 0) : row & 1 ? -1 : 1;
}

@inline
function rowZ(row: i32): i32 {
  return row == 0 ? 0 : row < 5 ? (row == 3 ? -1 : row == 4 ? 1 : 0) : row < 7 ? -1 : 1;
}

/**
 * The `k` nearest points of every place: squared distances and numbers into `distances` and `numbers` (k a place), ended
 * by infinity and −1. With `own` (ownNumber) the point whose number `self` holds is left out; 2 says that places stand in a
 * grid's blocks, not in lanes. Those further than √`most` are not found.
 */
export function gridNearest(
  n: i32, distances: usize, numbers: usize, x: usize, y: usize, z: usize, self: usize, grid: usize,
  k: i32, own: i32, most: f32,
): void {
  const lx = real(grid, 0);
  const ly = real(grid, 1);
  const lz = real(grid, 2);
  const side = real(grid, 3);
  const nx = whole(grid, 4);
  const ny = whole(grid, 5);
  const nz = whole(grid, 6);
  const starts = <usize>whole(grid, 8);
  const list = (<usize>k) << 2;
  const step: usize = own == 2 ? BLOCK : 16;
  for (let i = 0; i < n; i++) {
    const at = inSteps(<usize>i, step);
    const to = distances + <usize>i * list;
    const names = numbers + <usize>i * list;
    for (let j: usize = 0; j < list; j += 4) {
      store<f32>(to + j, Infinity);
      store<i32>(names + j, -1);
    }
    const px = load<f32>(x + at);
    const py = load<f32>(y + at);
    const pz = load<f32>(z + at);
    if (px - px + (py - py) + (pz - pz) != 0) continue;
    const except = ownNumber(own, self + at);
    const cx = cellAlong(px, lx, side, nx);
    const cy = cellAlong(py, ly, side, ny);
    const cz = cellAlong(pz, lz, side, nz);
    const yLow = py - (ly + <f32>cy * side);
    const zLow = pz - (lz + <f32>cz * side);
    // The own cell alone is next to never enough, so it begins with those around it, the nearest rows first.
    for (let row = 0; row < 9; row++) {
      const dy = rowY(row);
      const dz = rowZ(row);
      const ry = cy + dy;
      const rz = cz + dz;
      if (ry < 0 || ry >= ny || rz < 0 || rz >= nz) continue;
      const offY: f32 = dy == 0 ? 0 : dy < 0 ? yLow : side - yLow;
      const offZ: f32 = dz == 0 ? 0 : dz < 0 ? zLow : side - zLow;
      if ((offY * offY + offZ * offZ) * 0.99999 > min<f32>(load<f32>(to + list - 4), most)) continue;
      const cells = starts + ((<usize>((rz * ny + ry) * nx)) << 2);
      scan(cells, max<i32>(0, cx - 1), min<i32>(nx - 1, cx + 1), px, py, pz, except, to, names, k, most, grid);
    }
    for (let ring = 1; ; ring++) {
      const x0 = max<i32>(0, cx - ring);
      const x1 = min<i32>(nx - 1, cx + ring);
      const y0 = max<i32>(0, cy - ring);
      const y1 = min<i32>(ny - 1, cy + ring);
      const z0 = max<i32>(0, cz - ring);
      const z1 = min<i32>(nz - 1, cz + ring);
      if (ring > 1) {
        for (let rz = z0; rz <= z1; rz++) {
          for (let ry = y0; ry <= y1; ry++) {
            const row = starts + ((<usize>((rz * ny + ry) * nx)) << 2);
            if (rz == cz - ring || rz == cz + ring || ry == cy - ring || ry == cy + ring) {
              scan(row, x0, x1, px, py, pz, except, to, names, k, most, grid);
            } else {
              if (cx - ring >= 0) scan(row, cx - ring, cx - ring, px, py, pz, except, to, names, k, most, grid);
              if (cx + ring < nx) scan(row, cx + ring, cx + ring, px, py, pz, except, to, names, k, most, grid);
            }
          }
        }
      }
      const margin = min<f32>(
        beyond(px, lx, side, x0, x1, nx),
        min<f32>(beyond(py, ly, side, y0, y1, ny), beyond(pz, lz, side, z0, z1, nz)),
      );
      if (margin == f32.MAX_VALUE) break;
      const reached = margin > 0 ? margin * margin : 0;
      // A hair less, so that rounding never leaves out an equally near one.
      if (reached * 0.99999 > min<f32>(load<f32>(to + list - 4), most)) break;
    }
  }
}

/** Compares with the points of cells from … until of a row, four at a time. */
@inline
function scan(
  row: usize, from: i32, until: i32, px: f32, py: f32, pz: f32, except: i32,
  distances: usize, numbers: usize, k: i32, most: f32, grid: usize,
): void {
  const first = load<i32>(row + ((<usize>from) << 2));
  const end = load<i32>(row + ((<usize>until + 1) << 2));
  if (first >= end) return;
  const qx = f32x4.splat(px);
  const qy = f32x4.splat(py);
  const qz = f32x4.splat(pz);
  const last = distances + ((<usize>(k - 1)) << 2);
  // Those before the first and past the end are points of other cells: they come up there.
  let count = 15 << (first & 3);
  let block = <usize>whole(grid, 9) + inBlocks(first & ~3);
  for (let at = first & ~3; at < end; at += 4, block += BLOCK, count = 15) {
    const dx = f32x4.sub(v128.load(block), qx);
    const dy = f32x4.sub(v128.load(block, 16), qy);
    const dz = f32x4.sub(v128.load(block, 32), qz);
    const d = f32x4.add(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)), f32x4.mul(dz, dz));
    const near = i32x4.bitmask(f32x4.le(d, f32x4.splat(min<f32>(load<f32>(last), most)))) & count;
    if (near == 0) continue;
    const left = end - at;
    if (near & 1) consider(f32x4.extract_lane(d, 0), block, except, distances, numbers, k);
    if (near & 2 && left > 1) consider(f32x4.extract_lane(d, 1), block + 4, except, distances, numbers, k);
    if (near & 4 && left > 2) consider(f32x4.extract_lane(d, 2), block + 8, except, distances, numbers, k);
    if (near & 8 && left > 3) consider(f32x4.extract_lane(d, 3), block + 12, except, distances, numbers, k);
  }
}

@inline
function consider(d: f32, point: usize, except: i32, distances: usize, numbers: usize, k: i32): void {
  const number = load<i32>(point, NUMBERS);
  if (number != except) insert(distances, numbers, k, d, number);
}

/** The last point found of each place's `k`: distance, place and number; where none is, the place itself and −1. */
export function gridPick(
  n: i32, distance: usize, ox: usize, oy: usize, oz: usize, number: usize,
  distances: usize, numbers: usize, x: usize, y: usize, z: usize, grid: usize, k: i32,
): void {
  const blocks = <usize>whole(grid, 9);
  const places = <usize>whole(grid, 10);
  for (let i = 0; i < n; i++) {
    const at = (<usize>i) << 2;
    let j = <usize>(i * k + k - 1) << 2;
    for (let left = k; left > 1 && load<i32>(numbers + j) < 0; left--) j -= 4;
    const found = load<i32>(numbers + j);
    store<f32>(number + at, <f32>found);
    if (found < 0) {
      store<f32>(distance + at, 0);
      store<f32>(ox + at, load<f32>(x + at));
      store<f32>(oy + at, load<f32>(y + at));
      store<f32>(oz + at, load<f32>(z + at));
      continue;
    }
    const point = blocks + inBlocks(load<i32>(places + ((<usize>found) << 2)));
    store<f32>(distance + at, Mathf.sqrt(load<f32>(distances + j)));
    store<f32>(ox + at, load<f32>(point));
    store<f32>(oy + at, load<f32>(point, 16));
    store<f32>(oz + at, load<f32>(point, 32));
  }
}

/**
 * Of the k nearest that were found, vectors of theirs mixed by one over the square of their distance, and how far the nearest is.
 * @param ax ay az whole lanes of the vectors
 */
export function gridBlend(
  n: i32, distance: usize, ox: usize, oy: usize, oz: usize,
  distances: usize, numbers: usize, ax: usize, ay: usize, az: usize, k: i32,
): void {
  for (let i = 0; i < n; i++) {
    const at = (<usize>i) << 2;
    let sx: f32 = 0, sy: f32 = 0, sz: f32 = 0;
    for (let m = 0; m < k; m++) {
      const j = (<usize>(i * k + m)) << 2;
      const number = load<i32>(numbers + j);
      if (number < 0) break;
      const weight: f32 = 1 / max<f32>(load<f32>(distances + j), 1e-12);
      const to = (<usize>number) << 2;
      sx += load<f32>(ax + to) * weight;
      sy += load<f32>(ay + to) * weight;
      sz += load<f32>(az + to) * weight;
    }
    const size = Mathf.sqrt(sx * sx + sy * sy + sz * sz);
    const by: f32 = size > 0 ? 1 / size : 0;
    store<f32>(distance + at, Mathf.sqrt(load<f32>(distances + ((<usize>(i * k)) << 2))));
    store<f32>(ox + at, sx * by);
    store<f32>(oy + at, sy * by);
    store<f32>(oz + at, sz * by);
  }
}

/**
 * Points no further than √`most`: how many of every place when `list` is 0, else their numbers, ascending by cell, from
 * where `starts` says in `list`.
 */
export function gridWithin(
  n: i32, counts: usize, x: usize, y: usize, z: usize, self: usize, grid: usize, own: i32, radius: f32, list: usize,
): void {
  const side = real(grid, 3);
  const nx = whole(grid, 4);
  const ny = whole(grid, 5);
  const nz = whole(grid, 6);
  const starts = <usize>whole(grid, 8);
  const blocks = <usize>whole(grid, 9);
  const most = radius * radius;
  for (let i: usize = 0, stop = (<usize>n) << 2; i < stop; i += 4) {
    const px = load<f32>(x + i);
    const py = load<f32>(y + i);
    const pz = load<f32>(z + i);
    let found = 0;
    if (px - px + (py - py) + (pz - pz) == 0) {
      const except = ownNumber(own, self + i);
      const into = list + ((<usize>load<i32>(counts + i)) << 2);
      const x0 = cellAlong(px - radius, real(grid, 0), side, nx);
      const x1 = cellAlong(px + radius, real(grid, 0), side, nx);
      const y0 = cellAlong(py - radius, real(grid, 1), side, ny);
      const y1 = cellAlong(py + radius, real(grid, 1), side, ny);
      const z0 = cellAlong(pz - radius, real(grid, 2), side, nz);
      const z1 = cellAlong(pz + radius, real(grid, 2), side, nz);
      for (let rz = z0; rz <= z1; rz++) {
        for (let ry = y0; ry <= y1; ry++) {
          const row = starts + ((<usize>((rz * ny + ry) * nx)) << 2);
          const end = load<i32>(row + ((<usize>x1 + 1) << 2));
          for (let at = load<i32>(row + ((<usize>x0) << 2)); at < end; at++) {
            const point = blocks + inBlocks(at);
            const dx = load<f32>(point) - px;
            const dy = load<f32>(point, 16) - py;
            const dz = load<f32>(point, 32) - pz;
            const number = load<i32>(point, NUMBERS);
            if (dx * dx + dy * dy + dz * dz > most || number == except) continue;
            if (list) store<i32>(into + ((<usize>found) << 2), number);
            found++;
          }
        }
      }
    }
    if (!list) store<i32>(counts + i, found);
  }
}
