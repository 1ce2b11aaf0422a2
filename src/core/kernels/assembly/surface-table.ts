/**
 * Where things stand in the table of a surface, for those who ask it.
 *
 * The table (words): leaves that hold triangles, first leaf (a node's number), address of the boxes, of the leaves' triangles, of their slots,
 * of the triangles' points (three each), of their corners (three each), of x, of y, of z of all points.
 * Boxes: for each inner node least x of its four branches, least y, least z, greatest x, y, z: 96 bytes.
 * Triangles: for each leaf ax ay az bx by bz cx cy cz of four: 144 bytes. Slots: numbers of the four.
 */
export const LEAVES: usize = 0;
export const FIRST_LEAF: usize = 4;
export const BOXES: usize = 8;
export const TRIANGLES: usize = 12;
export const SLOTS: usize = 16;
export const POINTS: usize = 20;
export const CORNERS: usize = 24;
export const PLACES: usize = 28;

export const BOX_BYTES: usize = 96;
export const LEAF_BYTES: usize = 144;

/** One coordinate of a point. @param point its number times four */
export function at(table: usize, axis: usize, point: usize): f64 {
  return <f64>load<f32>(load<u32>(table + PLACES + (axis << 2)) + point);
}

/** Puts a branch among its sisters so that the nearest is taken first. @param square what is compared */
export function pushed(begin: usize, top: usize, square: f32, node: i32): usize {
  let at = top;
  while (at > begin && load<f32>(at - 8) < square) {
    store<i64>(at, load<i64>(at - 8));
    at -= 8;
  }
  store<f32>(at, square);
  store<i32>(at + 4, node);
  return top + 8;
}
