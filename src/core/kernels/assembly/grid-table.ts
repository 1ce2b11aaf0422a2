/** Words of the table of a grid, whose meaning grid.ts gives, and the cells that they lay out. */

@inline
export function real(grid: usize, word: usize): f32 {
  return load<f32>(grid + (word << 2));
}

@inline
export function whole(grid: usize, word: usize): i32 {
  return load<i32>(grid + (word << 2));
}

/** Cells along one axis of four numbers, those beyond the grid in its outer cells; what is not a number becomes 0. */
@inline
export function cellsAlong(v: v128, least: f32, side: f32, cells: i32): v128 {
  const at = i32x4.trunc_sat_f32x4_s(f32x4.div(f32x4.sub(v, f32x4.splat(least)), f32x4.splat(side)));
  return i32x4.max_s(i32x4.splat(0), i32x4.min_s(i32x4.splat(cells - 1), at));
}
