/**
 * Cellular noise (S. Worley, 1996) over a lattice with one point in each cell, four places at a time. All cells that
 * could hold the nearest two points are looked at, so both distances are exact.
 */
import { mixed, mixedOne, SPREAD_X, SPREAD_Y, SPREAD_Z, unit } from "./hashing";

const HALF = f32x4.splat(0.5);

/** For numbers of the cell's own: the same at any time. */
const OWN: i32 = 0x5bd1e995;

@inline
function joined(x: v128, y: v128, z: v128): v128 {
  const xy = v128.xor(i32x4.mul(x, i32x4.splat(SPREAD_X)), i32x4.mul(y, i32x4.splat(SPREAD_Y)));
  return v128.xor(xy, i32x4.mul(z, i32x4.splat(SPREAD_Z)));
}

/** −½ to ½ from ten bits of a hash, `from` of them below. */
@inline
function offset(hash: v128, from: i32): v128 {
  const bits = v128.and(i32x4.shr_u(hash, from), i32x4.splat(1023));
  return f32x4.sub(f32x4.mul(f32x4.convert_i32x4_s(bits), f32x4.splat(0.0009775171065493646)), HALF);
}

/** Where a cell's point stands from its middle, along one axis: between two steps of time. */
@inline
function placeIn(before: v128, after: v128, from: i32, blend: v128, jitter: v128): v128 {
  const a = offset(before, from);
  return f32x4.mul(jitter, f32x4.add(a, f32x4.mul(blend, f32x4.sub(offset(after, from), a))));
}

/**
 * Distances to the nearest and the second nearest point, and a number of the nearest one's cell, 0 ≤ number < 1.
 * `jitter`: 0 for points in the middle of their cells, 1 for anywhere in them.
 */
export function cells(
  n: i32, nearest: usize, second: usize, own: usize,
  x: usize, y: usize, z: usize, jitter: f32, seed: i32, before: i32, after: i32, blend: f32,
): void {
  const ownBase = i32x4.splat(mixedOne(seed ^ OWN));
  const base0 = i32x4.splat(mixedOne(before));
  const base1 = i32x4.splat(mixedOne(after));
  const t = f32x4.splat(blend);
  const reach = f32x4.splat(jitter);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const px = v128.load(x + i);
    const py = v128.load(y + i);
    const pz = v128.load(z + i);
    const fx = f32x4.floor(px);
    const fy = f32x4.floor(py);
    const fz = f32x4.floor(pz);
    const ix = i32x4.trunc_sat_f32x4_s(fx);
    const iy = i32x4.trunc_sat_f32x4_s(fy);
    const iz = i32x4.trunc_sat_f32x4_s(fz);
    // From the middle of the place's own cell.
    const ax = f32x4.sub(f32x4.sub(px, fx), HALF);
    const ay = f32x4.sub(f32x4.sub(py, fy), HALF);
    const az = f32x4.sub(f32x4.sub(pz, fz), HALF);
    const off = f32x4.pmax(f32x4.pmax(f32x4.abs(ax), f32x4.abs(ay)), f32x4.abs(az));
    let first = f32x4.splat(1e30);
    let next = f32x4.splat(1e30);
    let cell = i32x4.splat(0);
    for (let ring = 0; ring <= 2; ring++) {
      for (let dz = -ring; dz <= ring; dz++) {
        for (let dy = -ring; dy <= ring; dy++) {
          const side = dz == -ring || dz == ring || dy == -ring || dy == ring;
          // Within a ring's sides all cells of a row belong to it, else its two ends.
          const step = side || ring == 0 ? 1 : 2 * ring;
          for (let dx = -ring; dx <= ring; dx += step) {
            const cx = i32x4.add(ix, i32x4.splat(dx));
            const cy = i32x4.add(iy, i32x4.splat(dy));
            const cz = i32x4.add(iz, i32x4.splat(dz));
            const here = joined(cx, cy, cz);
            const h0 = mixed(v128.xor(here, base0));
            const h1 = blend == 0 ? h0 : mixed(v128.xor(here, base1));
            const rx = f32x4.sub(f32x4.add(f32x4.splat(<f32>dx), placeIn(h0, h1, 0, t, reach)), ax);
            const ry = f32x4.sub(f32x4.add(f32x4.splat(<f32>dy), placeIn(h0, h1, 10, t, reach)), ay);
            const rz = f32x4.sub(f32x4.add(f32x4.splat(<f32>dz), placeIn(h0, h1, 20, t, reach)), az);
            const d = f32x4.add(f32x4.add(f32x4.mul(rx, rx), f32x4.mul(ry, ry)), f32x4.mul(rz, rz));
            const nearer = f32x4.lt(d, first);
            next = f32x4.pmin(next, v128.bitselect(first, d, nearer));
            first = f32x4.pmin(first, d);
            cell = v128.bitselect(here, cell, nearer);
          }
        }
      }
      // The side of the next ring is this far off at least, and its points as far within as they may stray.
      const margin = f32x4.sub(f32x4.splat(<f32>ring + 1), f32x4.add(off, f32x4.mul(reach, HALF)));
      const far = f32x4.pmax(margin, f32x4.splat(0));
      if (i32x4.all_true(f32x4.le(next, f32x4.mul(far, far)))) break;
    }
    v128.store(nearest + i, f32x4.sqrt(first));
    v128.store(second + i, f32x4.sqrt(next));
    v128.store(own + i, unit(mixed(v128.xor(cell, ownBase))));
  }
}
