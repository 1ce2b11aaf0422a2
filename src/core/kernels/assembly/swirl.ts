/**
 * Curl noise (R. Bridson et al., 2007): a flow without sources, the curl of a potential whose three components are
 * gradient noise. Derivatives are worked out exactly from the formula of the noise.
 */
import { between } from "./between";
import { mixedOne, SPREAD_X, SPREAD_Y, SPREAD_Z } from "./hashing";
import { choiceOf, cornerHash, fade, gradientX, gradientY, gradientZ, partOf, sign, wholeOf } from "./noise";

const ONE = f32x4.splat(1);

/** 30t⁴ − 60t³ + 30t². */
@inline
function fadeSlope(t: v128): v128 {
  const part = f32x4.mul(t, f32x4.sub(t, ONE));
  return f32x4.mul(f32x4.splat(30), f32x4.mul(part, part));
}

@inline
function dot(choice: v128, hash: v128, x: v128, y: v128, z: v128, w: v128): v128 {
  const xy = f32x4.add(f32x4.mul(gradientX(choice), x), f32x4.mul(gradientY(choice), y));
  return f32x4.add(f32x4.add(xy, f32x4.mul(gradientZ(choice), z)), v128.xor(w, sign(hash)));
}

/**
 * Adds one lattice's share of the curl that a potential along the third of three axes makes: weight × ∂ψ/∂b to the first
 * axis' component, and takes weight × ∂ψ/∂a off the second's. The places are those along the axes in that order.
 */
export function swirlLattice(
  n: i32, first: usize, second: usize, a: usize, b: usize, c: usize, frequency: f32, weight: f32, time: f32, seed: i32,
): void {
  const f = f32x4.splat(frequency);
  const strength = f32x4.splat(weight * frequency * 0.5);
  const base = partOf(i32x4.splat(mixedOne(seed)));
  const w = f32x4.splat(time * 2);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const px = f32x4.mul(v128.load(a + i), f);
    const py = f32x4.mul(v128.load(b + i), f);
    const pz = f32x4.mul(v128.load(c + i), f);
    const fx = f32x4.floor(px);
    const fy = f32x4.floor(py);
    const fz = f32x4.floor(pz);
    const ax = f32x4.sub(px, fx);
    const ay = f32x4.sub(py, fy);
    const az = f32x4.sub(pz, fz);
    const bx = f32x4.sub(ax, ONE);
    const u = fade(ax);
    const v = fade(ay);
    const t = fade(az);
    const slopeX = fadeSlope(ax);
    const slopeY = fadeSlope(ay);
    const sx = i32x4.mul(wholeOf(fx), i32x4.splat(SPREAD_X));
    const x0 = partOf(sx);
    const x1 = partOf(i32x4.add(sx, i32x4.splat(SPREAD_X)));
    let sz = i32x4.mul(wholeOf(fz), i32x4.splat(SPREAD_Z));
    let z = az;
    // Planes of the cell along the third axis, rows along the second.
    let alongX = f32x4.splat(0);
    let alongY = f32x4.splat(0);
    for (let k = 0; k < 2; k++) {
      let sy = i32x4.mul(wholeOf(fy), i32x4.splat(SPREAD_Y));
      let y = ay;
      let lower = f32x4.splat(0);
      let rowX = f32x4.splat(0);
      let rowY = f32x4.splat(0);
      let rise = f32x4.splat(0);
      for (let j = 0; j < 2; j++) {
        const row = v128.xor(v128.xor(partOf(sy), partOf(sz)), base);
        const h0 = cornerHash(v128.xor(x0, row));
        const h1 = cornerHash(v128.xor(x1, row));
        const c0 = choiceOf(h0);
        const c1 = choiceOf(h1);
        const d0 = dot(c0, h0, ax, y, z, w);
        const d1 = dot(c1, h1, bx, y, z, w);
        const value = between(d0, d1, u);
        const x = f32x4.add(f32x4.mul(slopeX, f32x4.sub(d1, d0)), between(gradientX(c0), gradientX(c1), u));
        const up = between(gradientY(c0), gradientY(c1), u);
        rowX = j == 0 ? x : between(rowX, x, v);
        rowY = j == 0 ? up : between(rowY, up, v);
        rise = f32x4.sub(value, lower);
        lower = value;
        sy = i32x4.add(sy, i32x4.splat(SPREAD_Y));
        y = f32x4.sub(y, ONE);
      }
      rowY = f32x4.add(rowY, f32x4.mul(slopeY, rise));
      alongX = k == 0 ? rowX : between(alongX, rowX, t);
      alongY = k == 0 ? rowY : between(alongY, rowY, t);
      sz = i32x4.add(sz, i32x4.splat(SPREAD_Z));
      z = f32x4.sub(z, ONE);
    }
    v128.store(first + i, f32x4.add(v128.load(first + i), f32x4.mul(strength, alongY)));
    v128.store(second + i, f32x4.sub(v128.load(second + i), f32x4.mul(strength, alongX)));
  }
}
