/** Placements to what a renderer takes: interleaved matrices and colours. */
import { storeTransposed } from "./transposing";

const ZERO = f32x4.splat(0);
const ONE = f32x4.splat(1);

/** T·R·S of every element: 16 numbers, column-major. */
export function composeMatrices(
  n: i32, out: usize,
  px: usize, py: usize, pz: usize, qx: usize, qy: usize, qz: usize, qw: usize, sx: usize, sy: usize, sz: usize,
): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(qx + i);
    const y = v128.load(qy + i);
    const z = v128.load(qz + i);
    const w = v128.load(qw + i);
    const x2 = f32x4.add(x, x);
    const y2 = f32x4.add(y, y);
    const z2 = f32x4.add(z, z);
    const xx = f32x4.mul(x, x2);
    const xy = f32x4.mul(x, y2);
    const xz = f32x4.mul(x, z2);
    const yy = f32x4.mul(y, y2);
    const yz = f32x4.mul(y, z2);
    const zz = f32x4.mul(z, z2);
    const wx = f32x4.mul(w, x2);
    const wy = f32x4.mul(w, y2);
    const wz = f32x4.mul(w, z2);
    const a = v128.load(sx + i);
    const b = v128.load(sy + i);
    const c = v128.load(sz + i);
    const to = out + (i << 4);
    storeTransposed(to, to + 64, to + 128, to + 192,
      f32x4.mul(f32x4.sub(ONE, f32x4.add(yy, zz)), a), f32x4.mul(f32x4.add(xy, wz), a), f32x4.mul(f32x4.sub(xz, wy), a), ZERO);
    storeTransposed(to + 16, to + 80, to + 144, to + 208,
      f32x4.mul(f32x4.sub(xy, wz), b), f32x4.mul(f32x4.sub(ONE, f32x4.add(xx, zz)), b), f32x4.mul(f32x4.add(yz, wx), b), ZERO);
    storeTransposed(to + 32, to + 96, to + 160, to + 224,
      f32x4.mul(f32x4.add(xz, wy), c), f32x4.mul(f32x4.sub(yz, wx), c), f32x4.mul(f32x4.sub(ONE, f32x4.add(xx, yy)), c), ZERO);
    storeTransposed(to + 48, to + 112, to + 176, to + 240, v128.load(px + i), v128.load(py + i), v128.load(pz + i), ONE);
  }
}

/** Four planar lanes to one interleaved. */
export function interleave4(n: i32, out: usize, a: usize, b: usize, c: usize, d: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const to = out + (i << 2);
    storeTransposed(to, to + 16, to + 32, to + 48, v128.load(a + i), v128.load(b + i), v128.load(c + i), v128.load(d + i));
  }
}

/**
 * Bounds of boxes placed by matrices: each world axis takes the middle plus or minus the sum of the absolute half
 * extents. Joins with what `out` holds: least x y z, one unused, greatest x y z, one unused.
 */
export function placedBounds(
  n: i32, out: usize, matrices: usize, mx: f32, my: f32, mz: f32, hx: f32, hy: f32, hz: f32,
): void {
  let low = v128.load(out);
  let high = v128.load(out, 16);
  for (let i: usize = 0, end = (<usize>n) << 6; i < end; i += 64) {
    const a = v128.load(matrices + i);
    const b = v128.load(matrices + i, 16);
    const c = v128.load(matrices + i, 32);
    let middle = f32x4.add(v128.load(matrices + i, 48), f32x4.mul(a, f32x4.splat(mx)));
    middle = f32x4.add(middle, f32x4.mul(b, f32x4.splat(my)));
    middle = f32x4.add(middle, f32x4.mul(c, f32x4.splat(mz)));
    let reach = f32x4.mul(f32x4.abs(a), f32x4.splat(hx));
    reach = f32x4.add(reach, f32x4.mul(f32x4.abs(b), f32x4.splat(hy)));
    reach = f32x4.add(reach, f32x4.mul(f32x4.abs(c), f32x4.splat(hz)));
    low = f32x4.pmin(low, f32x4.sub(middle, reach));
    high = f32x4.pmax(high, f32x4.add(middle, reach));
  }
  v128.store(out, low);
  v128.store(out, high, 16);
}
