/** Quaternions x y z w and vectors, planar. */
import { arcTangentOf } from "./arctangent";
import { beyond, quarters, sineIn } from "./sine";
import { lengthOf } from "./vectors";

const HALF = f32x4.splat(0.5);

/** Euler angles in radians to a quaternion of Rx·Ry·Rz. */
export function eulerToRotation(
  n: i32, ox: usize, oy: usize, oz: usize, ow: usize, x: usize, y: usize, z: usize,
): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const hx = f32x4.mul(v128.load(x + i), HALF);
    const kx = quarters(hx);
    const rx = beyond(hx, kx);
    const sx = sineIn(kx, rx, 0);
    const cx = sineIn(kx, rx, 1);
    const hy = f32x4.mul(v128.load(y + i), HALF);
    const ky = quarters(hy);
    const ry = beyond(hy, ky);
    const sy = sineIn(ky, ry, 0);
    const cy = sineIn(ky, ry, 1);
    const hz = f32x4.mul(v128.load(z + i), HALF);
    const kz = quarters(hz);
    const rz = beyond(hz, kz);
    const sz = sineIn(kz, rz, 0);
    const cz = sineIn(kz, rz, 1);
    const cycz = f32x4.mul(cy, cz);
    const sysz = f32x4.mul(sy, sz);
    const sycz = f32x4.mul(sy, cz);
    const cysz = f32x4.mul(cy, sz);
    v128.store(ox + i, f32x4.add(f32x4.mul(sx, cycz), f32x4.mul(cx, sysz)));
    v128.store(oy + i, f32x4.sub(f32x4.mul(cx, sycz), f32x4.mul(sx, cysz)));
    v128.store(oz + i, f32x4.add(f32x4.mul(cx, cysz), f32x4.mul(sx, sycz)));
    v128.store(ow + i, f32x4.sub(f32x4.mul(cx, cycz), f32x4.mul(sx, sysz)));
  }
}

/** Hamilton product a ∘ b: b is applied first. */
export function multiplyRotations(
  n: i32, ox: usize, oy: usize, oz: usize, ow: usize,
  ax: usize, ay: usize, az: usize, aw: usize, bx: usize, by: usize, bz: usize, bw: usize,
): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(ax + i);
    const y = v128.load(ay + i);
    const z = v128.load(az + i);
    const w = v128.load(aw + i);
    const p = v128.load(bx + i);
    const q = v128.load(by + i);
    const r = v128.load(bz + i);
    const s = v128.load(bw + i);
    v128.store(ox + i, f32x4.sub(f32x4.add(f32x4.add(f32x4.mul(w, p), f32x4.mul(x, s)), f32x4.mul(y, r)), f32x4.mul(z, q)));
    v128.store(oy + i, f32x4.add(f32x4.add(f32x4.sub(f32x4.mul(w, q), f32x4.mul(x, r)), f32x4.mul(y, s)), f32x4.mul(z, p)));
    v128.store(oz + i, f32x4.add(f32x4.sub(f32x4.add(f32x4.mul(w, r), f32x4.mul(x, q)), f32x4.mul(y, p)), f32x4.mul(z, s)));
    v128.store(ow + i, f32x4.sub(f32x4.sub(f32x4.sub(f32x4.mul(w, s), f32x4.mul(x, p)), f32x4.mul(y, q)), f32x4.mul(z, r)));
  }
}

/** The part t of a turn: the same axis, t times the angle. */
export function partOfRotation(
  n: i32, ox: usize, oy: usize, oz: usize, ow: usize,
  ax: usize, ay: usize, az: usize, aw: usize, t: usize,
): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(ax + i);
    const y = v128.load(ay + i);
    const z = v128.load(az + i);
    const w = v128.load(aw + i);
    const flip = v128.and(w, i32x4.splat(0x80000000));
    const sine = lengthOf(x, y, z);
    const half = f32x4.mul(arcTangentOf(sine, f32x4.abs(w)), v128.load(t + i));
    const k = quarters(half);
    const r = beyond(half, k);
    const share = f32x4.div(v128.xor(sineIn(k, r, 0), flip), sine);
    const along = v128.and(share, f32x4.gt(sine, f32x4.splat(1e-12)));
    v128.store(ox + i, f32x4.mul(x, along));
    v128.store(oy + i, f32x4.mul(y, along));
    v128.store(oz + i, f32x4.mul(z, along));
    v128.store(ow + i, sineIn(k, r, 1));
  }
}

/** A vector turned by a quaternion. */
export function rotateVector(
  n: i32, ox: usize, oy: usize, oz: usize,
  qx: usize, qy: usize, qz: usize, qw: usize, vx: usize, vy: usize, vz: usize,
): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(qx + i);
    const y = v128.load(qy + i);
    const z = v128.load(qz + i);
    const w = v128.load(qw + i);
    const a = v128.load(vx + i);
    const b = v128.load(vy + i);
    const c = v128.load(vz + i);
    const hx = f32x4.sub(f32x4.mul(y, c), f32x4.mul(z, b));
    const hy = f32x4.sub(f32x4.mul(z, a), f32x4.mul(x, c));
    const hz = f32x4.sub(f32x4.mul(x, b), f32x4.mul(y, a));
    const tx = f32x4.add(hx, hx);
    const ty = f32x4.add(hy, hy);
    const tz = f32x4.add(hz, hz);
    v128.store(ox + i, f32x4.sub(f32x4.add(f32x4.add(a, f32x4.mul(w, tx)), f32x4.mul(y, tz)), f32x4.mul(z, ty)));
    v128.store(oy + i, f32x4.sub(f32x4.add(f32x4.add(b, f32x4.mul(w, ty)), f32x4.mul(z, tx)), f32x4.mul(x, tz)));
    v128.store(oz + i, f32x4.sub(f32x4.add(f32x4.add(c, f32x4.mul(w, tz)), f32x4.mul(x, ty)), f32x4.mul(y, tx)));
  }
}
