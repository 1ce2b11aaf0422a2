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

/** All Bernstein polynomials of the degree `count` − 1 at four places: they add up to 1 (P. de Casteljau's recursion). */
@inline
function bernstein(t: v128, count: i32, into: usize): void {
  const rest = f32x4.sub(f32x4.splat(1), t);
  v128.store(into, f32x4.splat(1));
  for (let degree = 1; degree < count; degree++) {
    const last = into + ((<usize>degree) << 4);
    v128.store(last, f32x4.mul(t, v128.load(last - 16)));
    for (let at = last - 16; at > into; at -= 16)
      v128.store(at, f32x4.add(f32x4.mul(rest, v128.load(at)), f32x4.mul(t, v128.load(at - 16))));
    v128.store(into, f32x4.mul(rest, v128.load(into)));
  }
}

/** @param weights room for 16 bytes for each row along each axis */
export function latticeShift(
  n: i32, outX: usize, outY: usize, outZ: usize, weights: usize, x: usize, y: usize, z: usize, table: usize,
): void {
  const nx = <i32>load<f32>(table);
  const ny = <i32>load<f32>(table, 4);
  const nz = <i32>load<f32>(table, 8);
  const bytes = (<usize>(nx * ny * nz)) << 2;
  const wy = weights + ((<usize>nx) << 4);
  const wz = wy + ((<usize>ny) << 4);
  const end = wz + ((<usize>nz) << 4);
  for (let i: usize = 0, stop = (<usize>n) << 2; i < stop; i += 16) {
    bernstein(along(v128.load(x + i), table, 0), nx, weights);
    bernstein(along(v128.load(y + i), table, 4), ny, wy);
    bernstein(along(v128.load(z + i), table, 8), nz, wz);
    let sx = f32x4.splat(0);
    let sy = f32x4.splat(0);
    let sz = f32x4.splat(0);
    let point = table + HEAD;
    for (let k = wz; k < end; k += 16) {
      for (let j = wy; j < wz; j += 16) {
        const across = f32x4.mul(v128.load(k), v128.load(j));
        for (let a = weights; a < wy; a += 16, point += 4) {
          const weight = f32x4.mul(across, v128.load(a));
          sx = f32x4.add(sx, f32x4.mul(splat(point), weight));
          sy = f32x4.add(sy, f32x4.mul(splat(point + bytes), weight));
          sz = f32x4.add(sz, f32x4.mul(splat(point + 2 * bytes), weight));
        }
      }
    }
    v128.store(outX + i, sx);
    v128.store(outY + i, sy);
    v128.store(outZ + i, sz);
  }
}
