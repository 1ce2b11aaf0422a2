/**
 * The closest place on a surface. Triangles stand in leaves of four, those near to each other beside each other, and over
 * them stands a whole tree of four branches a node, whose boxes are met four at a time: no pointers, and new boxes are all that
 * it takes when points have moved.
 */
import { storeCarried } from "./carried";
import {
  at, BOX_BYTES, BOXES, CORNERS, FIRST_LEAF, LEAF_BYTES, LEAVES, PLACES, POINTS, pushed, SLOTS, TRIANGLES,
} from "./surface-table";

/** Writes triangles and boxes from where the points are. */
export function fitSurface(table: usize): void {
  const leaves = load<i32>(table + LEAVES);
  const firstLeaf = load<i32>(table + FIRST_LEAF);
  const boxes = load<u32>(table + BOXES);
  const triangles = load<u32>(table + TRIANGLES);
  const slots = load<u32>(table + SLOTS);
  const points = load<u32>(table + POINTS);
  for (let leaf = 0; leaf < leaves; leaf++) {
    for (let slot = 0; slot < 4; slot++) {
      const number = load<i32>(slots + ((<usize>leaf) << 4) + ((<usize>slot) << 2));
      for (let k = 0; k < 3; k++) {
        const point = (<usize>load<i32>(points + (<usize>(number * 3 + k)) * 4)) << 2;
        for (let axis = 0; axis < 3; axis++) {
          const lane = load<u32>(table + PLACES + ((<usize>axis) << 2));
          const to = triangles + (<usize>leaf) * LEAF_BYTES + ((<usize>(k * 3 + axis)) << 4) + ((<usize>slot) << 2);
          store<f32>(to, load<f32>(lane + point));
        }
      }
    }
  }
  if (firstLeaf == 0) return;
  // From the last node to the first, so that branches come before what holds them.
  for (let node = firstLeaf - 1; node >= 0; node--) {
    for (let branch = 0; branch < 4; branch++) {
      const child = 4 * node + 1 + branch;
      const to = boxes + (<usize>node) * BOX_BYTES + ((<usize>branch) << 2);
      for (let axis = 0; axis < 3; axis++) {
        let least: f32 = Infinity;
        let most: f32 = -Infinity;
        if (child - firstLeaf >= leaves) {
          // Nobody stands there: the box is nowhere.
        } else if (child >= firstLeaf) {
          const from = triangles + (<usize>(child - firstLeaf)) * LEAF_BYTES + ((<usize>axis) << 4);
          for (let k: usize = 0; k < 3; k++)
            for (let slot: usize = 0; slot < 4; slot++) {
              const value = load<f32>(from + k * 48 + (slot << 2));
              if (value < least) least = value;
              if (value > most) most = value;
            }
        } else {
          const from = boxes + (<usize>child) * BOX_BYTES + ((<usize>axis) << 4);
          for (let b: usize = 0; b < 4; b++) {
            const low = load<f32>(from + (b << 2));
            const high = load<f32>(from + 48 + (b << 2));
            if (low < least) least = low;
            if (high > most) most = high;
          }
        }
        store<f32>(to + ((<usize>axis) << 4), least);
        store<f32>(to + 48 + ((<usize>axis) << 4), most);
      }
    }
  }
}

/**
 * The closest place to (x, y, z): distance, place, −1, and up to four components of what the surface carries there; a place
 * that is not finite has its own and 0.
 * @param stack 1,024 words of this thread's own @param table see above
 * @param most units: what is told of places further away is a place somewhere on the surface, further away than that too
 * @param l0 … l3 lanes of the points (of the corners, `byCorner`), the first `count` of them
 * @param clear colours times their alpha, to be straightened
 */
export function closestOnSurface(
  n: i32, distance: usize, ox: usize, oy: usize, oz: usize, number: usize,
  c0: usize, c1: usize, c2: usize, c3: usize, stack: usize, x: usize, y: usize, z: usize,
  table: usize, most: f32, count: i32, l0: usize, l1: usize, l2: usize, l3: usize, byCorner: i32, clear: i32,
): void {
  const names = load<u32>(table + (byCorner ? CORNERS : POINTS));
  let last = 0;
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    const px = load<f32>(x + i);
    const py = load<f32>(y + i);
    const pz = load<f32>(z + i);
    store<f32>(number + i, -1);
    store<f32>(c0 + i, 0);
    store<f32>(c1 + i, 0);
    store<f32>(c2 + i, 0);
    store<f32>(c3 + i, 0);
    const sum = px + py + pz;
    if (sum - sum != 0) {
      store<f32>(distance + i, 0);
      store<f32>(ox + i, px);
      store<f32>(oy + i, py);
      store<f32>(oz + i, pz);
      continue;
    }
    // Places beside each other have the same leaf, mostly: it says at once what is too far.
    last = nearestTriangle(table, stack, px, py, pz, last, most);
    const triangle = nearest;
    closestPlace(table, triangle, px, py, pz);
    store<f32>(distance + i, <f32>Math.sqrt(placeSquare));
    store<f32>(ox + i, <f32>placeX);
    store<f32>(oy + i, <f32>placeY);
    store<f32>(oz + i, <f32>placeZ);
    if (count == 0) continue;
    weigh(table, triangle);
    storeCarried(
      i, c0, c1, c2, c3, names + (<usize>triangle) * 12, count, l0, l1, l2, l3, clear, weightA, weightB, weightC,
    );
  }
}

/** The triangle that `nearestTriangle` found. */
export let nearest: i32 = 0;

/** Finds the nearest triangle, and returns its leaf. @param guess a leaf to begin with @param most see above */
export function nearestTriangle(table: usize, stack: usize, px: f32, py: f32, pz: f32, guess: i32, most: f32): i32 {
  const firstLeaf = load<i32>(table + FIRST_LEAF);
  const boxes = load<u32>(table + BOXES);
  const qx = f32x4.splat(px);
  const qy = f32x4.splat(py);
  const qz = f32x4.splat(pz);
  const none = f32x4.splat(0);
  nearest = -1;
  nearestSquare = Infinity;
  meetLeaf(table, guess, qx, qy, qz);
  let found = guess;
  // A little further, for what float32 rounds away.
  nearestSquare = min<f32>(nearestSquare, most * most * (1 + SLACK));
  if (firstLeaf == 0) return 0;
  let top = stack;
  store<f32>(top, 0);
  store<i32>(top + 4, 0);
  top += 8;
  while (top > stack) {
    top -= 8;
    if (load<f32>(top) >= nearestSquare) continue;
    const node = load<i32>(top + 4);
    if (node >= firstLeaf) {
      const leaf = node - firstLeaf;
      if (leaf == guess) continue;
      const before = nearestSquare;
      meetLeaf(table, leaf, qx, qy, qz);
      if (nearestSquare < before) found = leaf;
      continue;
    }
    const box = boxes + (<usize>node) * BOX_BYTES;
    const dx = f32x4.max(f32x4.max(f32x4.sub(v128.load(box), qx), f32x4.sub(qx, v128.load(box, 48))), none);
    const dy = f32x4.max(f32x4.max(f32x4.sub(v128.load(box, 16), qy), f32x4.sub(qy, v128.load(box, 64))), none);
    const dz = f32x4.max(f32x4.max(f32x4.sub(v128.load(box, 32), qz), f32x4.sub(qz, v128.load(box, 80))), none);
    const squares = f32x4.add(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)), f32x4.mul(dz, dz));
    const bits = i32x4.bitmask(f32x4.lt(squares, f32x4.splat(nearestSquare)));
    const begin = top;
    const child = 4 * node + 1;
    if (bits & 1) top = pushed(begin, top, f32x4.extract_lane(squares, 0), child);
    if (bits & 2) top = pushed(begin, top, f32x4.extract_lane(squares, 1), child + 1);
    if (bits & 4) top = pushed(begin, top, f32x4.extract_lane(squares, 2), child + 2);
    if (bits & 8) top = pushed(begin, top, f32x4.extract_lane(squares, 3), child + 3);
  }
  return found;
}

let nearestSquare: f32 = 0;

/** Part of a square by which it may be off. */
const SLACK: f32 = 1e-5;

/** Squared sine of the angle at a corner up to which a triangle counts as its edges. */
const SLIVER: f32 = 1e-8;
/** Squared area vector up to which the same holds: products of float32 say nothing of what is so small. */
const SPECK: f32 = 1e-30;

@inline
function crossed(a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.sub(f32x4.mul(a, b), f32x4.mul(c, d));
}

/** Squared distances to the four triangles of a leaf: to their planes inside of them, else to their edges. */
function meetLeaf(table: usize, leaf: i32, px: v128, py: v128, pz: v128): void {
  const at = load<u32>(table + TRIANGLES) + (<usize>leaf) * LEAF_BYTES;
  const ax = v128.load(at);
  const ay = v128.load(at, 16);
  const az = v128.load(at, 32);
  const abx = f32x4.sub(v128.load(at, 48), ax);
  const aby = f32x4.sub(v128.load(at, 64), ay);
  const abz = f32x4.sub(v128.load(at, 80), az);
  const acx = f32x4.sub(v128.load(at, 96), ax);
  const acy = f32x4.sub(v128.load(at, 112), ay);
  const acz = f32x4.sub(v128.load(at, 128), az);
  const apx = f32x4.sub(px, ax);
  const apy = f32x4.sub(py, ay);
  const apz = f32x4.sub(pz, az);
  const d1 = dot(abx, aby, abz, apx, apy, apz);
  const d2 = dot(acx, acy, acz, apx, apy, apz);
  const uu = dot(abx, aby, abz, abx, aby, abz);
  const vv = dot(acx, acy, acz, acx, acy, acz);
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const nx = crossed(aby, acz, abz, acy);
  const ny = crossed(abz, acx, abx, acz);
  const nz = crossed(abx, acy, aby, acx);
  const nn = dot(nx, ny, nz, nx, ny, nz);
  // On the plane: ap = v ab + w ac + what stands off along the normal.
  const v = f32x4.div(
    dot(nx, ny, nz, crossed(apy, acz, apz, acy), crossed(apz, acx, apx, acz), crossed(apx, acy, apy, acx)), nn,
  );
  const w = f32x4.div(
    dot(nx, ny, nz, crossed(aby, apz, abz, apy), crossed(abz, apx, abx, apz), crossed(abx, apy, aby, apx)), nn,
  );
  // Of a sliver the edges say all that float32 can tell.
  const wide = f32x4.gt(nn, f32x4.max(f32x4.splat(SPECK), f32x4.mul(f32x4.splat(SLIVER), f32x4.mul(uu, vv))));
  const inside = v128.and(
    v128.and(f32x4.ge(v, zero), f32x4.ge(w, zero)),
    v128.and(f32x4.le(f32x4.add(v, w), one), wide),
  );
  const off = dot(nx, ny, nz, apx, apy, apz);
  const onPlane = f32x4.div(f32x4.mul(off, off), nn);
  const bcx = f32x4.sub(acx, abx);
  const bcy = f32x4.sub(acy, aby);
  const bcz = f32x4.sub(acz, abz);
  const bpx = f32x4.sub(apx, abx);
  const bpy = f32x4.sub(apy, aby);
  const bpz = f32x4.sub(apz, abz);
  const d3 = dot(bcx, bcy, bcz, bpx, bpy, bpz);
  const ww = dot(bcx, bcy, bcz, bcx, bcy, bcz);
  const onB = offEdge(apx, apy, apz, abx, aby, abz, d1, uu);
  const onC = offEdge(apx, apy, apz, acx, acy, acz, d2, vv);
  const onA = offEdge(bpx, bpy, bpz, bcx, bcy, bcz, d3, ww);
  const squares = v128.bitselect(onPlane, f32x4.min(f32x4.min(onA, onB), onC), inside);
  if (i32x4.bitmask(f32x4.lt(squares, f32x4.splat(nearestSquare))) == 0 && nearest >= 0) return;
  const slots = load<u32>(table + SLOTS) + ((<usize>leaf) << 4);
  for (let slot = 0; slot < 4; slot++) {
    const square: f32 =
      slot == 0 ? f32x4.extract_lane(squares, 0)
      : slot == 1 ? f32x4.extract_lane(squares, 1)
      : slot == 2 ? f32x4.extract_lane(squares, 2)
      : f32x4.extract_lane(squares, 3);
    if (square < nearestSquare || nearest < 0) {
      nearestSquare = square;
      nearest = load<i32>(slots + ((<usize>slot) << 2));
    }
  }
}

/** Squared distance from an edge along (ex, ey, ez), whose beginning (x, y, z) is seen from; one without length is its beginning. */
@inline
function offEdge(x: v128, y: v128, z: v128, ex: v128, ey: v128, ez: v128, along: v128, square: v128): v128 {
  // Of 0 ÷ 0 the smaller-than is false, so that 0 stays.
  const t = f32x4.pmin(f32x4.pmax(f32x4.splat(0), f32x4.div(along, square)), f32x4.splat(1));
  const rx = f32x4.sub(x, f32x4.mul(t, ex));
  const ry = f32x4.sub(y, f32x4.mul(t, ey));
  const rz = f32x4.sub(z, f32x4.mul(t, ez));
  return dot(rx, ry, rz, rx, ry, rz);
}

@inline
function dot(ax: v128, ay: v128, az: v128, bx: v128, by: v128, bz: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(ax, bx), f32x4.mul(ay, by)), f32x4.mul(az, bz));
}

export let placeX: f64 = 0;
export let placeY: f64 = 0;
export let placeZ: f64 = 0;
export let placeSquare: f64 = 0;
let cornerA: usize = 0;
let cornerB: usize = 0;
let cornerC: usize = 0;

/** The closest place on one triangle, in float64 (C. Ericson, "Real-Time Collision Detection", 2005, § 5.1.5). */
export function closestPlace(table: usize, triangle: i32, x: f32, y: f32, z: f32): void {
  const name = load<u32>(table + POINTS) + (<usize>triangle) * 12;
  cornerA = (<usize>load<i32>(name)) << 2;
  cornerB = (<usize>load<i32>(name + 4)) << 2;
  cornerC = (<usize>load<i32>(name + 8)) << 2;
  const ax = at(table, 0, cornerA), ay = at(table, 1, cornerA), az = at(table, 2, cornerA);
  const bx = at(table, 0, cornerB), by = at(table, 1, cornerB), bz = at(table, 2, cornerB);
  const cx = at(table, 0, cornerC), cy = at(table, 1, cornerC), cz = at(table, 2, cornerC);
  const px = <f64>x, py = <f64>y, pz = <f64>z;
  const ux = bx - ax, uy = by - ay, uz = bz - az;
  const vx = cx - ax, vy = cy - ay, vz = cz - az;
  const d1 = ux * (px - ax) + uy * (py - ay) + uz * (pz - az);
  const d2 = vx * (px - ax) + vy * (py - ay) + vz * (pz - az);
  if (d1 <= 0 && d2 <= 0) return setPlace(ax, ay, az, px, py, pz);
  const d3 = ux * (px - bx) + uy * (py - by) + uz * (pz - bz);
  const d4 = vx * (px - bx) + vy * (py - by) + vz * (pz - bz);
  if (d3 >= 0 && d4 <= d3) return setPlace(bx, by, bz, px, py, pz);
  const onC = d1 * d4 - d3 * d2;
  // Edges without length are passed over.
  if (onC <= 0 && d1 >= 0 && d3 <= 0 && d1 > d3) {
    const t = d1 / (d1 - d3);
    return setPlace(ax + ux * t, ay + uy * t, az + uz * t, px, py, pz);
  }
  const d5 = ux * (px - cx) + uy * (py - cy) + uz * (pz - cz);
  const d6 = vx * (px - cx) + vy * (py - cy) + vz * (pz - cz);
  if (d6 >= 0 && d5 <= d6) return setPlace(cx, cy, cz, px, py, pz);
  const onB = d5 * d2 - d1 * d6;
  if (onB <= 0 && d2 >= 0 && d6 <= 0 && d2 > d6) {
    const t = d2 / (d2 - d6);
    return setPlace(ax + vx * t, ay + vy * t, az + vz * t, px, py, pz);
  }
  const onA = d3 * d6 - d5 * d4;
  if (onA <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0 && d4 - d3 + (d5 - d6) > 0) {
    const t = (d4 - d3) / (d4 - d3 + (d5 - d6));
    return setPlace(bx + (cx - bx) * t, by + (cy - by) * t, bz + (cz - bz) * t, px, py, pz);
  }
  const whole = onA + onB + onC;
  if (!(whole > 0)) return setPlace(ax, ay, az, px, py, pz);
  const part = 1 / whole;
  const s = onB * part;
  const t = onC * part;
  return setPlace(ax + ux * s + vx * t, ay + uy * s + vy * t, az + uz * s + vz * t, px, py, pz);
}

function setPlace(x: f64, y: f64, z: f64, px: f64, py: f64, pz: f64): void {
  placeX = x;
  placeY = y;
  placeZ = z;
  placeSquare = (px - x) * (px - x) + (py - y) * (py - y) + (pz - z) * (pz - z);
}

let weightA: f64 = 0;
let weightB: f64 = 0;
let weightC: f64 = 0;

/** How much each point of its triangle counts at the place that was found; together 1 (C. Ericson, 2005, § 3.4). */
function weigh(table: usize, triangle: i32): void {
  const ax = at(table, 0, cornerA), ay = at(table, 1, cornerA), az = at(table, 2, cornerA);
  const ux = at(table, 0, cornerB) - ax, uy = at(table, 1, cornerB) - ay, uz = at(table, 2, cornerB) - az;
  const vx = at(table, 0, cornerC) - ax, vy = at(table, 1, cornerC) - ay, vz = at(table, 2, cornerC) - az;
  const wx = placeX - ax, wy = placeY - ay, wz = placeZ - az;
  const uu = ux * ux + uy * uy + uz * uz;
  const uv = ux * vx + uy * vy + uz * vz;
  const vv = vx * vx + vy * vy + vz * vz;
  const wu = wx * ux + wy * uy + wz * uz;
  const wv = wx * vx + wy * vy + wz * vz;
  const whole = uu * vv - uv * uv;
  if (!(whole > 0)) {
    weightA = 1;
    weightB = 0;
    weightC = 0;
    return;
  }
  weightB = (vv * wu - uv * wv) / whole;
  weightC = (uu * wv - uv * wu) / whole;
  weightA = 1 - weightB - weightC;
}
