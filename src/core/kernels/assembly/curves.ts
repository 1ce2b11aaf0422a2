/** The nearest place on curves, whose pieces stand in the tree of surface.ts as triangles without area. */
import { nearest, nearestTriangle } from "./surface";
import { at, POINTS } from "./surface-table";

/**
 * The nearest place on curves to (x, y, z): distance, place, direction of the curve there (unit), part of its curve's length, and the curve's
 * number; a place that is not finite has its own and 0. Where two pieces of a curve meet it is the earlier one.
 * @param stack 96 words of this thread's own @param table see surface-table.ts @param pieces how many
 * @param begins, ends, curves for every piece the parts of its curve's length, and the curve's number
 */
export function nearestOnCurves(
  n: i32, distance: usize, ox: usize, oy: usize, oz: usize, dx: usize, dy: usize, dz: usize, part: usize, curve: usize,
  stack: usize, x: usize, y: usize, z: usize,
  table: usize, pieces: i32, begins: usize, ends: usize, curves: usize,
): void {
  const names = load<u32>(table + POINTS);
  // Places beside each other have the same leaf, mostly.
  let last = 0;
  for (let i: usize = 0, stop = (<usize>n) << 2; i < stop; i += 4) {
    const px = load<f32>(x + i);
    const py = load<f32>(y + i);
    const pz = load<f32>(z + i);
    const sum = px + py + pz;
    if (sum - sum != 0) {
      store<f32>(ox + i, px);
      store<f32>(oy + i, py);
      store<f32>(oz + i, pz);
      store<f32>(distance + i, 0);
      store<f32>(dx + i, 0);
      store<f32>(dy + i, 0);
      store<f32>(dz + i, 0);
      store<f32>(part + i, 0);
      store<f32>(curve + i, 0);
      continue;
    }
    last = nearestTriangle(table, stack, px, py, pz, last, Infinity);
    let piece = nearest;
    seek(table, names, piece, px, py, pz);
    const number = load<f32>(curves + ((<usize>piece) << 2));
    // The end of one piece is the beginning of the next.
    const before = pieceThatMeets(names, curves, pieces, piece, number);
    if (before != piece) {
      piece = before;
      seek(table, names, piece, px, py, pz);
    }
    const fx = fromX + wayX * share;
    const fy = fromY + wayY * share;
    const fz = fromZ + wayZ * share;
    const rx = <f64>px - fx;
    const ry = <f64>py - fy;
    const rz = <f64>pz - fz;
    store<f32>(distance + i, <f32>Math.sqrt(rx * rx + ry * ry + rz * rz));
    store<f32>(ox + i, <f32>fx);
    store<f32>(oy + i, <f32>fy);
    store<f32>(oz + i, <f32>fz);
    const long = Math.sqrt(wayX * wayX + wayY * wayY + wayZ * wayZ);
    const unit = long > 0 ? 1 / long : 0;
    store<f32>(dx + i, <f32>(wayX * unit));
    store<f32>(dy + i, <f32>(wayY * unit));
    store<f32>(dz + i, <f32>(wayZ * unit));
    const begin = <f64>load<f32>(begins + ((<usize>piece) << 2));
    const end = <f64>load<f32>(ends + ((<usize>piece) << 2));
    store<f32>(part + i, <f32>(begin + (end - begin) * share));
    store<f32>(curve + i, number);
  }
}

let fromX: f64 = 0;
let fromY: f64 = 0;
let fromZ: f64 = 0;
let wayX: f64 = 0;
let wayY: f64 = 0;
let wayZ: f64 = 0;
let share: f64 = 0;

/** How far along a piece lies what is nearest on it, in float64. */
function seek(table: usize, names: usize, piece: i32, px: f32, py: f32, pz: f32): void {
  const name = names + (<usize>piece) * 12;
  const a = (<usize>load<i32>(name)) << 2;
  const b = (<usize>load<i32>(name, 4)) << 2;
  fromX = at(table, 0, a);
  fromY = at(table, 1, a);
  fromZ = at(table, 2, a);
  wayX = at(table, 0, b) - fromX;
  wayY = at(table, 1, b) - fromY;
  wayZ = at(table, 2, b) - fromZ;
  const whole = wayX * wayX + wayY * wayY + wayZ * wayZ;
  const along = (<f64>px - fromX) * wayX + (<f64>py - fromY) * wayY + (<f64>pz - fromZ) * wayZ;
  share = whole > 0 ? min<f64>(1, max<f64>(0, along / whole)) : 0;
}

/** The earlier piece that has the place that was found as well, where it is an end of the piece; else the piece. */
function pieceThatMeets(names: usize, curves: usize, pieces: i32, piece: i32, number: f32): i32 {
  if (share == 0) {
    if (piece > 0 && load<f32>(curves + ((<usize>(piece - 1)) << 2)) == number) return piece - 1;
    return piece;
  }
  if (share < 1) return piece;
  // The last piece of a closed curve ends where its first one begins.
  if (piece + 1 < pieces && load<f32>(curves + ((<usize>(piece + 1)) << 2)) == number) return piece;
  const begin = load<i32>(names + (<usize>piece) * 12);
  const end = load<i32>(names + (<usize>piece) * 12, 4);
  return end < begin ? piece - (begin - end) : piece;
}
