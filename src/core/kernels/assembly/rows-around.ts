/** The cells around a place, for searches that reach no further than a cell is wide. */
import { cellAlong, real, whole } from "./grid-table";

/** Number of the cell that a place lies in. */
@inline
export function cellAt(x: f32, y: f32, z: f32, grid: usize): i32 {
  const side = real(grid, 3);
  const nx = whole(grid, 4);
  const ny = whole(grid, 5);
  const cz = cellAlong(z, real(grid, 2), side, whole(grid, 6));
  return (cz * ny + cellAlong(y, real(grid, 1), side, ny)) * nx + cellAlong(x, real(grid, 0), side, nx);
}

/** Writes where the points of each row of three cells around the cell of a place begin and end, empty ones left out; gives their bytes. */
@inline
export function rowsAround(spans: usize, x: f32, y: f32, z: f32, grid: usize): usize {
  const side = real(grid, 3);
  const nx = whole(grid, 4);
  const ny = whole(grid, 5);
  const nz = whole(grid, 6);
  const starts = <usize>whole(grid, 8);
  const cx = cellAlong(x, real(grid, 0), side, nx);
  const cy = cellAlong(y, real(grid, 1), side, ny);
  const cz = cellAlong(z, real(grid, 2), side, nz);
  const x0 = (<usize>max<i32>(0, cx - 1)) << 2;
  const x1 = ((<usize>min<i32>(nx - 1, cx + 1)) << 2) + 4;
  let at = spans;
  for (let rz = max<i32>(0, cz - 1); rz <= min<i32>(nz - 1, cz + 1); rz++) {
    for (let ry = max<i32>(0, cy - 1); ry <= min<i32>(ny - 1, cy + 1); ry++) {
      const row = starts + ((<usize>((rz * ny + ry) * nx)) << 2);
      const begin = load<i32>(row + x0);
      const end = load<i32>(row + x1);
      store<i32>(at, begin);
      store<i32>(at + 4, end);
      at += begin < end ? 8 : 0;
    }
  }
  return at - spans;
}
