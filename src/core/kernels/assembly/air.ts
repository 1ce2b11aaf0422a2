/**
 * Air on a staggered grid (F. Harlow and J. Welch, 1965; R. Bridson, "Fluid Simulation for Computer Graphics", 2008), row by row: rows first …
 * first + n − 1 of all, y running faster than z. A grid has one cell around it that belongs to nobody, solid or open: cells 0 and n − 1 of each axis. What lies
 * between along a row goes four at a time, so the finest grid has a multiple of four there: it is of whole tiles. `u`, `v` and `w` are speeds
 * through the lower faces of cells, in cells a second; `kinds` are 0 for solid, 1 for air that moves, 2 for open. What each kernel does
 * is in air-carrying.ts, air-pushes.ts and air-pressure.ts; this is what they share.
 */

@inline
export function at(base: usize, i: i32): f32 {
  return load<f32>(base + ((<usize>i) << 2));
}

/** Four cells of a lane from one on. */
@inline
export function four(lane: usize, cell: i32): v128 {
  return v128.load(lane + ((<usize>cell) << 2));
}

/** Whether a row is one of those around the grid. */
@inline
export function isAround(row: i32, ny: i32, nz: i32): bool {
  const j = row % ny;
  const k = row / ny;
  return j == 0 || k == 0 || j == ny - 1 || k == nz - 1;
}
