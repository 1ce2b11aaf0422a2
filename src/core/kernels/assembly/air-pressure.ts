/**
 * The pressures that take out of air what would press it together or tear it apart: see air.ts and volumes/pressure.ts. Coarse grids have any
 * number of cells along a row, and are gone through four at a time all the same: those beyond the end of a row are the ones around the grid,
 * which stay 0, or of the next row, which become what they become anyway.
 */
import { at, four, isAround } from "./air";
import { between } from "./between";

/** The pressure of a cell: open ones have 0. */
@inline
function pressed(p: usize, kinds: usize, cell: i32): f32 {
  return at(kinds, cell) == 1 ? at(p, cell) : 0;
}

/** How many cells beside each moving one are not solid, 0 for all that do not move: what its pressure counts. The cells around do not move. */
export function fluidOpenings(n: i32, first: i32, out: usize, kinds: usize, nxf: f32, nyf: f32, nzf: f32): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const nxy = nx * ny;
  for (let row = first; row < first + n; row++) {
    const begin = row * nx;
    memory.fill(out + ((<usize>begin) << 2), 0, (<usize>nx) << 2);
    if (isAround(row, ny, nz)) continue;
    for (let i = 1; i < nx - 1; i += 4) openingsOfFour(out, kinds, begin + i, nx, nxy);
  }
}

/** −1 where a cell is not solid. */
@inline
function openAt(kinds: usize, cell: i32): v128 {
  return f32x4.ne(four(kinds, cell), f32x4.splat(0));
}

/** The openings of four cells. */
@inline
function openingsOfFour(out: usize, kinds: usize, cell: i32, nx: i32, nxy: i32): void {
  const beside = i32x4.add(openAt(kinds, cell - 1), openAt(kinds, cell + 1));
  const above = i32x4.add(openAt(kinds, cell - nx), openAt(kinds, cell + nx));
  const behind = i32x4.add(openAt(kinds, cell - nxy), openAt(kinds, cell + nxy));
  const count = f32x4.convert_i32x4_s(i32x4.neg(i32x4.add(i32x4.add(beside, above), behind)));
  const isAir = f32x4.eq(four(kinds, cell), f32x4.splat(1));
  v128.store(out + ((<usize>cell) << 2), v128.and(isAir, count));
}

/** The sums of the pressures beside four cells. Those of cells that do not move are 0. */
@inline
function sumBeside(at: usize, row: usize, layer: usize): v128 {
  const along = f32x4.add(v128.load(at - 4), v128.load(at + 4));
  const up = f32x4.add(f32x4.add(along, v128.load(at - row)), v128.load(at + row));
  return f32x4.add(f32x4.add(up, v128.load(at - layer)), v128.load(at + layer));
}

/**
 * One step of weighted Jacobi for (sum beside − count × p) = right × h².
 * @param openings of fluidOpenings
 */
export function fluidRelax(
  n: i32, first: i32, out: usize, p: usize, right: usize, openings: usize, nxf: f32, nyf: f32, nzf: f32, weight: f32, square: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const row = (<usize>nx) << 2;
  const layer = row * <usize>ny;
  const weights = f32x4.splat(weight);
  const squares = f32x4.splat(square);
  for (let r = first; r < first + n; r++) {
    if (isAround(r, ny, nz)) continue;
    for (let i = 1; i < nx - 1; i += 4) {
      const to = (<usize>(r * nx + i)) << 2;
      const before = v128.load(p + to);
      const count = v128.load(openings + to);
      const wanted = f32x4.div(f32x4.sub(sumBeside(p + to, row, layer), f32x4.mul(squares, v128.load(right + to))), count);
      const value = f32x4.add(before, f32x4.mul(weights, f32x4.sub(wanted, before)));
      v128.store(out + to, v128.and(value, f32x4.gt(count, f32x4.splat(0))));
    }
  }
}

/** What is left of the equation. */
export function fluidResidual(
  n: i32, first: i32, out: usize, p: usize, right: usize, openings: usize, nxf: f32, nyf: f32, nzf: f32, square: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const row = (<usize>nx) << 2;
  const layer = row * <usize>ny;
  const squares = f32x4.splat(square);
  for (let r = first; r < first + n; r++) {
    if (isAround(r, ny, nz)) continue;
    for (let i = 1; i < nx - 1; i += 4) {
      const to = (<usize>(r * nx + i)) << 2;
      const count = v128.load(openings + to);
      const found = f32x4.sub(sumBeside(p + to, row, layer), f32x4.mul(count, v128.load(p + to)));
      const value = f32x4.sub(v128.load(right + to), f32x4.div(found, squares));
      v128.store(out + to, v128.and(value, f32x4.gt(count, f32x4.splat(0))));
    }
  }
}

/** What each cell of a grid of half as many is: it moves where any of its eight does, else it is open where any is. Rows are those of the coarse one. */
export function fluidCoarseKinds(n: i32, first: i32, out: usize, fine: usize, nxf: f32, nyf: f32, nzf: f32): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const fx = (nx - 2) * 2 + 2;
  const fy = (ny - 2) * 2 + 2;
  const fz = (nz - 2) * 2 + 2;
  for (let row = first; row < first + n; row++) {
    const j = row % ny;
    const k = row / ny;
    for (let i = 0; i < nx; i++) {
      let moves = false;
      let isOpen = false;
      for (let c = 0; c < 8; c++) {
        const x = fineOf(i, c & 1, nx, fx);
        const y = fineOf(j, (c >> 1) & 1, ny, fy);
        const z = fineOf(k, c >> 2, nz, fz);
        const kind = at(fine, (z * fy + y) * fx + x);
        if (kind == 1) moves = true;
        else if (kind == 2) isOpen = true;
      }
      store<f32>(out + ((<usize>(row * nx + i)) << 2), moves ? 1 : isOpen ? 2 : 0);
    }
  }
}

/** Which of the two fine cells along an axis; the one around is as wide on all grids. */
@inline
function fineOf(v: i32, step: i32, coarse: i32, fine: i32): i32 {
  return v == 0 ? 0 : v == coarse - 1 ? fine - 1 : 2 * v - 1 + step;
}

/** The mean of what is left of eight cells, on a grid of half as many; rows are those of the coarse one. */
export function fluidCoarsen(
  n: i32, first: i32, out: usize, fine: usize, kinds: usize, nxf: f32, nyf: f32, nzf: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const fx = (nx - 2) * 2 + 2;
  const fxy = fx * ((ny - 2) * 2 + 2);
  for (let row = first; row < first + n; row++) {
    const j = row % ny;
    const k = row / ny;
    for (let i = 0; i < nx; i++) {
      const cell = row * nx + i;
      let value: f32 = 0;
      if (i > 0 && j > 0 && k > 0 && i < nx - 1 && j < ny - 1 && k < nz - 1 && at(kinds, cell) == 1) {
        const f = (2 * k - 1) * fxy + (2 * j - 1) * fx + 2 * i - 1;
        value =
          0.125 *
          (at(fine, f) + at(fine, f + 1) + at(fine, f + fx) + at(fine, f + fx + 1) + at(fine, f + fxy) + at(fine, f + fxy + 1) +
            at(fine, f + fxy + fx) + at(fine, f + fxy + fx + 1));
      }
      store<f32>(out + ((<usize>cell) << 2), value);
    }
  }
}

/** Adds what was found on the coarse grid, between its cells by three straight ways; rows are those of the fine one, which is even along all axes. */
export function fluidRefine(
  n: i32, first: i32, p: usize, coarse: usize, kinds: usize, nxf: f32, nyf: f32, nzf: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const cx = (nx - 2) / 2 + 2;
  const cxy = cx * ((ny - 2) / 2 + 2);
  for (let row = first; row < first + n; row++) {
    if (isAround(row, ny, nz)) continue;
    const j = row % ny;
    const k = row / ny;
    // A fine cell lies a quarter of a coarse one beside the middle of its own.
    const y = <f32>j * 0.5 + 0.25;
    const z = <f32>k * 0.5 + 0.25;
    const b = <i32>y;
    const c = <i32>z;
    const coarseRow = c * cxy + b * cx;
    const fy = f32x4.splat(y - <f32>b);
    const fz = f32x4.splat(z - <f32>c);
    for (let i = 1; i < nx - 1; i += 4) {
      const to = p + ((<usize>(row * nx + i)) << 2);
      const first = coarse + ((<usize>(coarseRow + (i >> 1))) << 2);
      const near = between(refined(first), refined(first + ((<usize>cx) << 2)), fy);
      const layer = first + ((<usize>cxy) << 2);
      const far = between(refined(layer), refined(layer + ((<usize>cx) << 2)), fy);
      const isAir = f32x4.eq(four(kinds, row * nx + i), f32x4.splat(1));
      v128.store(to, f32x4.add(v128.load(to), v128.and(isAir, between(near, far, fz))));
    }
  }
}

/** Four fine entries of a row between coarse ones, the first of which lies three quarters of the way from one to the next. */
@inline
function refined(first: usize): v128 {
  const c = v128.load(first);
  return between(v128.shuffle<f32>(c, c, 0, 1, 1, 2), v128.shuffle<f32>(c, c, 1, 2, 2, 3), f32x4(0.75, 0.25, 0.75, 0.25));
}

/** Where air moves at a face and nothing is solid: what the pressure pushes through it. @param back to the cell before each face */
@inline
function projectFour(lane: usize, p: usize, kinds: usize, cell: i32, back: i32): void {
  const none = f32x4.splat(0);
  const air = f32x4.splat(1);
  const own = four(kinds, cell);
  const other = four(kinds, cell - back);
  const isAir = f32x4.eq(own, air);
  const wasAir = f32x4.eq(other, air);
  const isOpen = v128.and(v128.and(f32x4.ne(own, none), f32x4.ne(other, none)), v128.or(isAir, wasAir));
  const less = f32x4.sub(v128.and(isAir, four(p, cell)), v128.and(wasAir, four(p, cell - back)));
  const to = lane + ((<usize>cell) << 2);
  const speed = v128.load(to);
  v128.store(to, v128.bitselect(f32x4.sub(speed, less), speed, isOpen));
}

@inline
function projectOne(lane: usize, p: usize, kinds: usize, cell: i32, back: i32): void {
  const own = at(kinds, cell);
  const other = at(kinds, cell - back);
  if (own == 0 || other == 0 || (own != 1 && other != 1)) return;
  const to = lane + ((<usize>cell) << 2);
  store<f32>(to, load<f32>(to) - (pressed(p, kinds, cell) - pressed(p, kinds, cell - back)));
}

/** Takes from each face what the pressure pushes through it. */
export function fluidProject(
  n: i32, first: i32, u: usize, v: usize, w: usize, p: usize, kinds: usize, nxf: f32, nyf: f32, nzf: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nxy = nx * ny;
  for (let row = first; row < first + n; row++) {
    const j = row % ny;
    const k = row / ny;
    const begin = row * nx;
    for (let i = 1; i < nx - 1; i += 4) {
      projectFour(u, p, kinds, begin + i, 1);
      if (j > 0) projectFour(v, p, kinds, begin + i, nx);
      if (k > 0) projectFour(w, p, kinds, begin + i, nxy);
    }
    // Of the cells around only those at the end of the row have a face at a cell that may move.
    projectOne(u, p, kinds, begin + nx - 1, 1);
  }
}
