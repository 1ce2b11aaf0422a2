/**
 * Where rays first meet a surface, in the tree of surface.ts. No ray slips between two triangles that share an edge: S. Woop, C.
 * Benthin and I. Wald, "Watertight ray/triangle intersection", Journal of Computer Graphics Techniques 2 (1), 2013, in float64.
 */
import { storeCarried } from "./carried";
import { closestPlace, nearest, nearestTriangle, placeSquare, placeX, placeY, placeZ } from "./surface";
import {
  at, BOX_BYTES, BOXES, CORNERS, FIRST_LEAF, LEAF_BYTES, POINTS, pushed, SLOTS, TRIANGLES,
} from "./surface-table";

/** Part of a coordinate by which boxes are widened, for what float32 rounds away. */
const SLACK: f32 = 6e-7;
/** Stands for a direction that is 0 along an axis. */
const ALMOST_NONE: f64 = 1e-30;

/** The ray, and its direction seen along its greatest axis. */
let px: f64 = 0;
let py: f64 = 0;
let pz: f64 = 0;
let shearX: f64 = 0;
let shearY: f64 = 0;
let shearZ: f64 = 0;
/** Which axis is which. */
let axisX: usize = 0;
let axisY: usize = 0;
let axisZ: usize = 0;

/** What was met first: its triangle or −1, how far in directions, and how much each of its points counts. */
let met: i32 = -1;
let reached: f64 = 0;
let weightA: f64 = 0;
let weightB: f64 = 0;
let weightC: f64 = 0;

/**
 * 1 or 0, distance, place, facing, and up to four components of what the surface carries there; what misses has 0 and its own
 * place.
 * @param stack 1,024 words of this thread's own @param table see surface-table.ts
 * @param behind units before (x, y, z) at which rays begin @param most units at most @param bothSides also from behind
 * @param l0 … l3 lanes of the points (of the corners, `byCorner`), the first `count` of them
 * @param clear colours times their alpha, to be straightened
 */
export function raysOnSurface(
  n: i32, hit: usize, distance: usize, ox: usize, oy: usize, oz: usize, fx: usize, fy: usize, fz: usize,
  c0: usize, c1: usize, c2: usize, c3: usize, stack: usize,
  x: usize, y: usize, z: usize, dx: usize, dy: usize, dz: usize,
  table: usize, behind: f32, most: f32, bothSides: i32,
  count: i32, l0: usize, l1: usize, l2: usize, l3: usize, byCorner: i32, clear: i32,
): void {
  const names = load<u32>(table + (byCorner ? CORNERS : POINTS));
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    px = <f64>load<f32>(x + i);
    py = <f64>load<f32>(y + i);
    pz = <f64>load<f32>(z + i);
    const rx = <f64>load<f32>(dx + i);
    const ry = <f64>load<f32>(dy + i);
    const rz = <f64>load<f32>(dz + i);
    const long = Math.sqrt(rx * rx + ry * ry + rz * rz);
    store<f32>(hit + i, 0);
    store<f32>(distance + i, 0);
    store<f32>(ox + i, <f32>px);
    store<f32>(oy + i, <f32>py);
    store<f32>(oz + i, <f32>pz);
    store<f32>(fx + i, 0);
    store<f32>(fy + i, 0);
    store<f32>(fz + i, 0);
    store<f32>(c0 + i, 0);
    store<f32>(c1 + i, 0);
    store<f32>(c2 + i, 0);
    store<f32>(c3 + i, 0);
    const sum = px + py + pz + long;
    if (sum - sum != 0 || !(long > 0)) continue;
    px -= (rx / long) * <f64>behind;
    py -= (ry / long) * <f64>behind;
    pz -= (rz / long) * <f64>behind;
    met = -1;
    reached = (<f64>most) / long;
    follow(table, stack, rx, ry, rz, bothSides);
    if (met < 0) continue;
    store<f32>(hit + i, 1);
    store<f32>(distance + i, <f32>(reached * long));
    store<f32>(ox + i, <f32>(px + rx * reached));
    store<f32>(oy + i, <f32>(py + ry * reached));
    store<f32>(oz + i, <f32>(pz + rz * reached));
    face(table, met, fx + i, fy + i, fz + i);
    if (count == 0) continue;
    storeCarried(
      i, c0, c1, c2, c3, names + (<usize>met) * 12, count, l0, l1, l2, l3, clear, weightA, weightB, weightC,
    );
  }
}

/**
 * What a thing that went from one place to another touches: the closest place on the surface and how far it is, where that is no further
 * than it went and `thickness`, else a distance beyond; and whether it went through, where, and which way the surface looks there.
 */
export function touchSurface(
  n: i32, distance: usize, ox: usize, oy: usize, oz: usize,
  hit: usize, hx: usize, hy: usize, hz: usize, fx: usize, fy: usize, fz: usize, stack: usize,
  x: usize, y: usize, z: usize, wx: usize, wy: usize, wz: usize,
  table: usize, thickness: f32,
): void {
  let last = 0;
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    const qx = load<f32>(x + i);
    const qy = load<f32>(y + i);
    const qz = load<f32>(z + i);
    px = <f64>load<f32>(wx + i);
    py = <f64>load<f32>(wy + i);
    pz = <f64>load<f32>(wz + i);
    const rx = <f64>qx - px;
    const ry = <f64>qy - py;
    const rz = <f64>qz - pz;
    const long = Math.sqrt(rx * rx + ry * ry + rz * rz);
    const most = <f32>long + thickness;
    store<f32>(distance + i, most + 1);
    store<f32>(ox + i, qx);
    store<f32>(oy + i, qy);
    store<f32>(oz + i, qz);
    store<f32>(hit + i, 0);
    store<f32>(hx + i, qx);
    store<f32>(hy + i, qy);
    store<f32>(hz + i, qz);
    store<f32>(fx + i, 0);
    store<f32>(fy + i, 0);
    store<f32>(fz + i, 0);
    if (long - long != 0) continue;
    last = nearestTriangle(table, stack, qx, qy, qz, last, most);
    closestPlace(table, nearest, qx, qy, qz);
    const far = Math.sqrt(placeSquare);
    if (far > <f64>most) continue;
    store<f32>(distance + i, <f32>far);
    store<f32>(ox + i, <f32>placeX);
    store<f32>(oy + i, <f32>placeY);
    store<f32>(oz + i, <f32>placeZ);
    if (!(long > 0)) continue;
    met = -1;
    reached = 1;
    follow(table, stack, rx, ry, rz, 1);
    if (met < 0) continue;
    store<f32>(hit + i, 1);
    store<f32>(hx + i, <f32>(px + rx * reached));
    store<f32>(hy + i, <f32>(py + ry * reached));
    store<f32>(hz + i, <f32>(pz + rz * reached));
    face(table, met, fx + i, fy + i, fz + i);
  }
}

/** From box to box, the nearest first. */
function follow(table: usize, stack: usize, rx: f64, ry: f64, rz: f64, bothSides: i32): void {
  prepare(rx, ry, rz);
  const firstLeaf = load<i32>(table + FIRST_LEAF);
  if (firstLeaf == 0) return meetLeaf(table, 0, bothSides);
  const boxes = load<u32>(table + BOXES);
  const ix = <f32>(1 / (rx == 0 ? ALMOST_NONE : rx));
  const iy = <f32>(1 / (ry == 0 ? ALMOST_NONE : ry));
  const iz = <f32>(1 / (rz == 0 ? ALMOST_NONE : rz));
  let top = stack;
  store<f32>(top, 0);
  store<i32>(top + 4, 0);
  top += 8;
  while (top > stack) {
    top -= 8;
    if (<f64>load<f32>(top) > reached) continue;
    const node = load<i32>(top + 4);
    if (node >= firstLeaf) {
      meetLeaf(table, node - firstLeaf, bothSides);
      continue;
    }
    const box = boxes + (<usize>node) * BOX_BYTES;
    let near = f32x4.splat(0);
    let far = f32x4.splat(Infinity);
    near = f32x4.max(near, plane(box, ix >= 0 ? 0 : 48, <f32>px, ix, -1));
    far = f32x4.min(far, plane(box, ix >= 0 ? 48 : 0, <f32>px, ix, 1));
    near = f32x4.max(near, plane(box + 16, iy >= 0 ? 0 : 48, <f32>py, iy, -1));
    far = f32x4.min(far, plane(box + 16, iy >= 0 ? 48 : 0, <f32>py, iy, 1));
    near = f32x4.max(near, plane(box + 32, iz >= 0 ? 0 : 48, <f32>pz, iz, -1));
    far = f32x4.min(far, plane(box + 32, iz >= 0 ? 48 : 0, <f32>pz, iz, 1));
    const bits = i32x4.bitmask(v128.and(f32x4.le(near, far), f32x4.le(near, f32x4.splat(<f32>reached))));
    const begin = top;
    const child = 4 * node + 1;
    if (bits & 1) top = pushed(begin, top, f32x4.extract_lane(near, 0), child);
    if (bits & 2) top = pushed(begin, top, f32x4.extract_lane(near, 1), child + 1);
    if (bits & 4) top = pushed(begin, top, f32x4.extract_lane(near, 2), child + 2);
    if (bits & 8) top = pushed(begin, top, f32x4.extract_lane(near, 3), child + 3);
  }
}

/** Where the ray passes one side of four boxes, a little sooner or later. @param away −1 for the side that is entered, else 1 */
@inline
function plane(box: usize, side: usize, from: f32, inverse: f32, away: f32): v128 {
  const bound = v128.load(box + side);
  const size = f32x4.add(f32x4.abs(bound), f32x4.splat(abs(from)));
  // The side that is entered is moved against the ray, the other one along it.
  const outward: f32 = inverse >= 0 ? away * SLACK : -away * SLACK;
  const moved = f32x4.add(f32x4.sub(bound, f32x4.splat(from)), f32x4.mul(size, f32x4.splat(outward)));
  return f32x4.mul(moved, f32x4.splat(inverse));
}

/** The axis that the ray goes along most becomes the third; the others keep their turn. */
function prepare(rx: f64, ry: f64, rz: f64): void {
  const ax = abs(rx);
  const ay = abs(ry);
  const az = abs(rz);
  axisZ = ax > ay && ax > az ? 0 : ay > az ? 1 : 2;
  axisX = (axisZ + 1) % 3;
  axisY = (axisX + 1) % 3;
  const along = component(rx, ry, rz, axisZ);
  if (along < 0) {
    const swapped = axisX;
    axisX = axisY;
    axisY = swapped;
  }
  shearX = component(rx, ry, rz, axisX) / along;
  shearY = component(rx, ry, rz, axisY) / along;
  shearZ = 1 / along;
}

@inline
function component(x: f64, y: f64, z: f64, axis: usize): f64 {
  return axis == 0 ? x : axis == 1 ? y : z;
}

function meetLeaf(table: usize, leaf: i32, bothSides: i32): void {
  const corners = load<u32>(table + TRIANGLES) + (<usize>leaf) * LEAF_BYTES;
  const slots = load<u32>(table + SLOTS) + ((<usize>leaf) << 4);
  const ox = component(px, py, pz, axisX);
  const oy = component(px, py, pz, axisY);
  const oz = component(px, py, pz, axisZ);
  for (let slot: usize = 0; slot < 16; slot += 4) {
    const az = corner(corners, 0, axisZ, slot) - oz;
    const bz = corner(corners, 1, axisZ, slot) - oz;
    const cz = corner(corners, 2, axisZ, slot) - oz;
    const ax = corner(corners, 0, axisX, slot) - ox - shearX * az;
    const ay = corner(corners, 0, axisY, slot) - oy - shearY * az;
    const bx = corner(corners, 1, axisX, slot) - ox - shearX * bz;
    const by = corner(corners, 1, axisY, slot) - oy - shearY * bz;
    const cx = corner(corners, 2, axisX, slot) - ox - shearX * cz;
    const cy = corner(corners, 2, axisY, slot) - oy - shearY * cz;
    // Twice the areas that each edge takes up as the ray sees it: of one sign where it passes between all three.
    const u = cx * by - cy * bx;
    const v = ax * cy - ay * cx;
    const w = bx * ay - by * ax;
    const behind = u < 0 || v < 0 || w < 0;
    if (behind && (!bothSides || u > 0 || v > 0 || w > 0)) continue;
    const whole = u + v + w;
    if (whole == 0) continue;
    const t = ((u * az + v * bz + w * cz) * shearZ) / whole;
    if (!(t >= 0) || t > reached || (t == reached && met >= 0)) continue;
    reached = t;
    met = load<i32>(slots + slot);
    weightA = u / whole;
    weightB = v / whole;
    weightC = w / whole;
  }
}

@inline
function corner(corners: usize, k: usize, axis: usize, slot: usize): f64 {
  return <f64>load<f32>(corners + ((k * 3 + axis) << 4) + slot);
}

/** Which way a triangle looks, unit. */
function face(table: usize, triangle: i32, fx: usize, fy: usize, fz: usize): void {
  const name = load<u32>(table + POINTS) + (<usize>triangle) * 12;
  const a = (<usize>load<i32>(name)) << 2;
  const b = (<usize>load<i32>(name + 4)) << 2;
  const c = (<usize>load<i32>(name + 8)) << 2;
  const ax = at(table, 0, a), ay = at(table, 1, a), az = at(table, 2, a);
  const ux = at(table, 0, b) - ax, uy = at(table, 1, b) - ay, uz = at(table, 2, b) - az;
  const vx = at(table, 0, c) - ax, vy = at(table, 1, c) - ay, vz = at(table, 2, c) - az;
  const nx = uy * vz - uz * vy;
  const ny = uz * vx - ux * vz;
  const nz = ux * vy - uy * vx;
  const long = Math.sqrt(nx * nx + ny * ny + nz * nz);
  if (long == 0) return;
  store<f32>(fx, <f32>(nx / long));
  store<f32>(fy, <f32>(ny / long));
  store<f32>(fz, <f32>(nz / long));
}
