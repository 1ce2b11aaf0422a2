/** Words of the table of a grid, whose meaning grid.ts gives. */

@inline
export function real(grid: usize, word: usize): f32 {
  return load<f32>(grid + (word << 2));
}

@inline
export function whole(grid: usize, word: usize): i32 {
  return load<i32>(grid + (word << 2));
}
