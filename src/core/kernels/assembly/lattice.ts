/** How far places go with a lattice of control points (geometry/lattice.ts says how its table is laid out). */

/** Words of the table before the ways of its points. */
const HEAD: usize = 9 * 4;

@inline
function splat(address: usize): v128 {
  return v128.load32_splat(address);
}

/** Where four places lie between both ends of an axis, 0 to 1. */
@inline
function along(v: v128, table: usize, axis: usize): v128 {
  const t = f32x4.mul(f32x4.sub(v, splat(table + 12 + axis)), splat(table + 24 + axis));
  return f32x4.pmin(f32x4.splat(1), f32x4.pmax(f32x4.splat(0), t));
}

/**
 * All Bernstein polynomials of the degree `count` − 1 at eight places, in pairs of four: they add up to 1 (P. de Casteljau's
 * recursion).
 */
@inline
function bernstein(t: v128, u: v128, count: i32, into: usize): void {
  const one = f32x4.splat(1);
  const restT = f32x4.sub(one, t);
  const restU = f32x4.sub(one, u);
  v128.store(into, one);
  v128.store(into, one, 16);
  for (let degree = 1; degree < count; degree++) {
    const last = into + ((<usize>degree) << 5);
    v128.store(last, f32x4.mul(t, v128.load(last - 32)));
    v128.store(last, f32x4.mul(u, v128.load(last - 16)), 16);
    for (let at = last - 32; at > into; at -= 32) {
      v128.store(at, f32x4.add(f32x4.mul(restT, v128.load(at)), f32x4.mul(t, v128.load(at - 32))));
      v128.store(at, f32x4.add(f32x4.mul(restU, v128.load(at, 16)), f32x4.mul(u, v128.load(at - 16))), 16);
    }
    v128.store(into, f32x4.mul(restT, v128.load(into)));
    v128.store(into, f32x4.mul(restU, v128.load(into, 16)), 16);
  }
}

/** Control points of a lattice of 3 × 3 × 3, along all three axes. */
const CUBE: i32 = 81;

/** Puts powers in place of Bernstein polynomials of degree 2, in lines of three numbers, `step` of them apart. */
function intoPowers(ways: usize, step: i32): void {
  const next = (<usize>step) << 2;
  for (let i = 0; i < CUBE; i++) {
    if (i / step % 3 != 0) continue;
    const at = ways + ((<usize>i) << 2);
    const a = load<f32>(at);
    const b = load<f32>(at + next);
    const c = load<f32>(at + 2 * next);
    store<f32>(at + next, 2 * (b - a));
    store<f32>(at + 2 * next, a - 2 * b + c);
  }
}

@inline
function quadratic(a: v128, b: v128, c: v128, t: v128): v128 {
  return f32x4.add(a, f32x4.mul(t, f32x4.add(b, f32x4.mul(t, c))));
}

@inline
function row(at: usize, t: v128): v128 {
  return quadratic(splat(at), splat(at + 4), splat(at + 8), t);
}

@inline
function sheet(at: usize, t: v128, u: v128): v128 {
  return quadratic(row(at, t), row(at + 12, t), row(at + 24, t), u);
}

@inline
function cube(at: usize, t: v128, u: v128, v: v128): v128 {
  return quadratic(sheet(at, t, u), sheet(at + 36, t, u), sheet(at + 72, t, u), v);
}

/** The usual lattice of 3 × 3 × 3, without a loop over its points. @param powers room for as many numbers as its points have */
function threeByThree(
  n: i32, outX: usize, outY: usize, outZ: usize, powers: usize, x: usize, y: usize, z: usize, table: usize,
): void {
  memory.copy(powers, table + HEAD, CUBE << 2);
  for (let step = 1; step < 27; step *= 3) intoPowers(powers, step);
  for (let i: usize = 0, stop = (<usize>n) << 2; i < stop; i += 16) {
    const t = along(v128.load(x + i), table, 0);
    const u = along(v128.load(y + i), table, 4);
    const v = along(v128.load(z + i), table, 8);
    v128.store(outX + i, cube(powers, t, u, v));
    v128.store(outY + i, cube(powers + 108, t, u, v));
    v128.store(outZ + i, cube(powers + 216, t, u, v));
  }
}

/**
 * Rows of control points are summed along x first, then those sums along y, then along z; each control point is read once
 * for eight places.
 * @param room for 32 bytes for each row along each axis, and for 81 numbers
 */
export function latticeShift(
  n: i32, outX: usize, outY: usize, outZ: usize, room: usize, x: usize, y: usize, z: usize, table: usize,
): void {
  const nx = <i32>load<f32>(table);
  const ny = <i32>load<f32>(table, 4);
  const nz = <i32>load<f32>(table, 8);
  if (nx == 3 && ny == 3 && nz == 3) {
    threeByThree(n, outX, outY, outZ, room, x, y, z, table);
    return;
  }
  const bytes = (<usize>(nx * ny * nz)) << 2;
  const wy = room + ((<usize>nx) << 5);
  const wz = wy + ((<usize>ny) << 5);
  const end = wz + ((<usize>nz) << 5);
  const none = f32x4.splat(0);
  for (let i: usize = 0, stop = (<usize>n) << 2; i < stop; i += 32) {
    // The last four stand alone: they are then both halves.
    const h = i + 16 < stop ? i + 16 : i;
    bernstein(along(v128.load(x + i), table, 0), along(v128.load(x + h), table, 0), nx, room);
    bernstein(along(v128.load(y + i), table, 4), along(v128.load(y + h), table, 4), ny, wy);
    bernstein(along(v128.load(z + i), table, 8), along(v128.load(z + h), table, 8), nz, wz);
    for (let axis: usize = 0; axis < 3; axis++) {
      let point = table + HEAD + axis * bytes;
      let sum = none;
      let sumH = none;
      for (let k = wz; k < end; k += 32) {
        let sheet = none;
        let sheetH = none;
        for (let j = wy; j < wz; j += 32) {
          let row = none;
          let rowH = none;
          for (let a = room; a < wy; a += 32, point += 4) {
            const way = splat(point);
            row = f32x4.add(row, f32x4.mul(way, v128.load(a)));
            rowH = f32x4.add(rowH, f32x4.mul(way, v128.load(a, 16)));
          }
          sheet = f32x4.add(sheet, f32x4.mul(row, v128.load(j)));
          sheetH = f32x4.add(sheetH, f32x4.mul(rowH, v128.load(j, 16)));
        }
        sum = f32x4.add(sum, f32x4.mul(sheet, v128.load(k)));
        sumH = f32x4.add(sumH, f32x4.mul(sheetH, v128.load(k, 16)));
      }
      const out = axis === 0 ? outX : axis === 1 ? outY : outZ;
      v128.store(out + i, sum);
      v128.store(out + h, sumH);
    }
  }
}
