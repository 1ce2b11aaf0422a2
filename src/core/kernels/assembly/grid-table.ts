/** Words of the table of a grid, whose meaning grid.ts gives, and the cells that they lay out. */

@inline
export function real(grid: usize, word: usize): f32 {
  return load<f32>(grid + (word << 2));
}

@inline
export function whole(grid: usize, word: usize): i32 {
  return load<i32>(grid + (word << 2));
}

/** Cell along one axis of any number, those beyond the grid in its outer cells. */
@inline
export function cellAlong(v: f32, least: f32, side: f32, cells: i32): i32 {
  const at = (v - least) / side;
  // Not a number compares false and lands in the first cell.
  return at > 0 ? min<i32>(cells - 1, <i32>min<f32>(at, 1e6)) : 0;
}

/** Cells along one axis of four numbers, those beyond the grid in its outer cells; what is not a number becomes 0. */
@inline
export function cellsAlong(v: v128, least: f32, side: f32, cells: i32): v128 {
  const at = i32x4.trunc_sat_f32x4_s(f32x4.div(f32x4.sub(v, f32x4.splat(least)), f32x4.splat(side)));
  return i32x4.max_s(i32x4.splat(0), i32x4.min_s(i32x4.splat(cells - 1), at));
}

/** Numbers of the cells of four places. */
@inline
export function cellsOf(x: v128, y: v128, z: v128, grid: usize): v128 {
  const side = real(grid, 3);
  const nx = whole(grid, 4);
  const ny = whole(grid, 5);
  const cx = cellsAlong(x, real(grid, 0), side, nx);
  const cy = cellsAlong(y, real(grid, 1), side, ny);
  const cz = cellsAlong(z, real(grid, 2), side, whole(grid, 6));
  return i32x4.add(i32x4.mul(i32x4.add(i32x4.mul(cz, i32x4.splat(ny)), cy), i32x4.splat(nx)), cx);
}

/** What a block of four sorted points takes: their x, y, z and numbers, 16 bytes each. */
export const BLOCK: usize = 64;

/** Where the numbers stand in a block. */
export const NUMBERS: usize = 48;

/** From the blocks' address to the x of a sorted point; its y, z and number follow 16, 32 and 48 bytes later. */
@inline
export function inBlocks(point: i32): usize {
  return inSteps(<usize>point, BLOCK);
}

/** From the address of a lane to one of its numbers, if four of them stand together every `step` bytes. */
@inline
export function inSteps(i: usize, step: usize): usize {
  return (i >> 2) * step + ((i & 3) << 2);
}
