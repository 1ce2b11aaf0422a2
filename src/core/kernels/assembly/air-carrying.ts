/** Where air comes from, and what it takes along: see air.ts. */
import { four, isAround } from "./air";
import { between } from "./between";

/** Two neighbours along x at each of two places: what stands at the first, what beside it, at the second, beside that. */
@inline
function two(a: usize, b: usize): v128 {
  return v128.load64_lane(b, v128.load64_zero(a), 1);
}

@inline
function firsts(low: v128, high: v128): v128 {
  return v128.shuffle<f32>(low, high, 0, 2, 4, 6);
}

@inline
function seconds(low: v128, high: v128): v128 {
  return v128.shuffle<f32>(low, high, 1, 3, 5, 7);
}

/** Between two neighbours along x at four places. */
@inline
function alongRow(p: usize, q: usize, r: usize, s: usize, f: v128): v128 {
  const low = two(p, q);
  const high = two(r, s);
  return between(firsts(low, high), seconds(low, high), f);
}

/** Kept on the grid, so that there is a next entry. */
@inline
function within(v: v128, most: i32): v128 {
  return f32x4.pmax(f32x4.splat(0), f32x4.pmin(f32x4.splat(<f32>(most - 1) - 0.001), v));
}

@inline
function whole(v: v128): v128 {
  return i32x4.trunc_sat_f32x4_s(v);
}

@inline
function rest(v: v128, i: v128): v128 {
  return f32x4.sub(v, f32x4.convert_i32x4_s(i));
}

/** Where in a lane, in bytes, the first of the eight entries around each place stands. */
@inline
function entry(i: v128, j: v128, k: v128, nx: i32, ny: i32): v128 {
  const row = i32x4.add(i32x4.mul(k, i32x4.splat(ny)), j);
  return i32x4.shl(i32x4.add(i32x4.mul(row, i32x4.splat(nx)), i), 2);
}

/** A lane between cells by three straight ways, at four places. */
@inline
function blendFour(lane: usize, at: v128, nx: i32, nxy: i32, fx: v128, fy: v128, fz: v128): v128 {
  const p = lane + <usize>i32x4.extract_lane(at, 0);
  const q = lane + <usize>i32x4.extract_lane(at, 1);
  const r = lane + <usize>i32x4.extract_lane(at, 2);
  const s = lane + <usize>i32x4.extract_lane(at, 3);
  const row = (<usize>nx) << 2;
  const layer = (<usize>nxy) << 2;
  const far = layer + row;
  const a = alongRow(p, q, r, s, fx);
  const b = alongRow(p + row, q + row, r + row, s + row, fx);
  const near = between(a, b, fy);
  const c = alongRow(p + layer, q + layer, r + layer, s + layer, fx);
  const d = alongRow(p + far, q + far, r + far, s + far, fx);
  return between(near, between(c, d, fy), fz);
}

/** A lane at four places in cells, 0 at the middle of its first entry. */
@inline
function read(lane: usize, x: v128, y: v128, z: v128, nx: i32, ny: i32, nz: i32): v128 {
  const px = within(x, nx);
  const py = within(y, ny);
  const pz = within(z, nz);
  const i = whole(px);
  const j = whole(py);
  const k = whole(pz);
  return blendFour(lane, entry(i, j, k, nx, ny), nx, nx * ny, rest(px, i), rest(py, j), rest(pz, k));
}

/** Four cells of a row from i on. */
@inline
function along(i: i32): v128 {
  return f32x4.add(f32x4.splat(<f32>i), f32x4(0, 1, 2, 3));
}

/**
 * How far each cell's middle has come in so many seconds, in cells: by its speed half-way back (Runge–Kutta of second order). The cells around stay.
 * @param steps how many seconds back; below 0 forwards
 */
export function fluidTrace(
  n: i32, first: i32, dx: usize, dy: usize, dz: usize, u: usize, v: usize, w: usize, nxf: f32, nyf: f32, nzf: f32, steps: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const nxy = nx * ny;
  const halfway = f32x4.splat(<f32>0.25 * steps);
  const all = f32x4.splat(steps);
  const face = f32x4.splat(0.5);
  for (let row = first; row < first + n; row++) {
    if (isAround(row, ny, nz)) continue;
    const j = row % ny;
    const k = row / ny;
    for (let i = 1; i < nx - 1; i += 4) {
      const cell = row * nx + i;
      const to = (<usize>cell) << 2;
      // Their own speed, from the faces around them.
      const x = f32x4.sub(along(i), f32x4.mul(halfway, f32x4.add(four(u, cell), four(u, cell + 1))));
      const y = f32x4.sub(f32x4.splat(<f32>j), f32x4.mul(halfway, f32x4.add(four(v, cell), four(v, cell + nx))));
      const z = f32x4.sub(f32x4.splat(<f32>k), f32x4.mul(halfway, f32x4.add(four(w, cell), four(w, cell + nxy))));
      // In middles of cells: a face stands half a cell lower.
      v128.store(dx + to, f32x4.mul(all, read(u, f32x4.add(x, face), y, z, nx, ny, nz)));
      v128.store(dy + to, f32x4.mul(all, read(v, x, f32x4.add(y, face), z, nx, ny, nz)));
      v128.store(dz + to, f32x4.mul(all, read(w, x, y, f32x4.add(z, face), nx, ny, nz)));
    }
  }
}

/**
 * What stands at each cell, or face, comes from where the air was.
 * @param out2 from2 a second lane that goes the same way, 0 for none
 * @param dx dy dz of fluidTrace; a face has come as far as the two cells at it in the mean
 * @param face 0 for middles of cells, 1 to 3 for lower faces along x, y, z
 */
export function fluidCarry(
  n: i32, first: i32, out: usize, from: usize, out2: usize, from2: usize, dx: usize, dy: usize, dz: usize,
  nxf: f32, nyf: f32, nzf: f32, face: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const bytes = (<usize>nx) << 2;
  const half = f32x4.splat(0.5);
  const before = face == 1 ? 1 : face == 2 ? nx : face == 3 ? nx * ny : 0;
  for (let row = first; row < first + n; row++) {
    const begin = (<usize>(row * nx)) << 2;
    if (isAround(row, ny, nz)) {
      memory.copy(out + begin, from + begin, bytes);
      if (out2) memory.copy(out2 + begin, from2 + begin, bytes);
      continue;
    }
    const j = row % ny;
    const k = row / ny;
    for (let i = 1; i < nx - 1; i += 4) {
      const cell = row * nx + i;
      const to = (<usize>cell) << 2;
      const other = cell - before;
      const x = f32x4.sub(along(i), f32x4.mul(half, f32x4.add(four(dx, cell), four(dx, other))));
      const y = f32x4.sub(f32x4.splat(<f32>j), f32x4.mul(half, f32x4.add(four(dy, cell), four(dy, other))));
      const z = f32x4.sub(f32x4.splat(<f32>k), f32x4.mul(half, f32x4.add(four(dz, cell), four(dz, other))));
      v128.store(out + to, read(from, x, y, z, nx, ny, nz));
      if (out2) v128.store(out2 + to, read(from2, x, y, z, nx, ny, nz));
    }
    for (let end = 0; end < 2; end++) {
      const to = begin + (end ? bytes - 4 : 0);
      store<f32>(out + to, load<f32>(from + to));
      if (out2) store<f32>(out2 + to, load<f32>(from2 + to));
    }
  }
}

/**
 * Puts right by half of what is lost when something is carried there and back (A. Selle et al., "An unconditionally stable MacCormack method",
 * 2008), never beyond the eight values that it came from, and lets it fade.
 * @param out what was carried there, and is put right @param back that, carried back @param from as it was
 * @param dx dy dz of fluidTrace, there @param keep share that is left
 */
export function fluidCorrect(
  n: i32, first: i32, out: usize, back: usize, from: usize, dx: usize, dy: usize, dz: usize, nxf: f32, nyf: f32, nzf: f32, keep: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const nxy = nx * ny;
  const half = f32x4.splat(0.5);
  const kept = f32x4.splat(keep);
  for (let row = first; row < first + n; row++) {
    if (isAround(row, ny, nz)) continue;
    const j = row % ny;
    const k = row / ny;
    for (let i = 1; i < nx - 1; i += 4) {
      const cell = row * nx + i;
      const to = out + ((<usize>cell) << 2);
      const there = v128.load(to);
      const right = f32x4.add(there, f32x4.mul(half, f32x4.sub(four(from, cell), four(back, cell))));
      const x = whole(within(f32x4.sub(along(i), four(dx, cell)), nx));
      const y = whole(within(f32x4.sub(f32x4.splat(<f32>j), four(dy, cell)), ny));
      const z = whole(within(f32x4.sub(f32x4.splat(<f32>k), four(dz, cell)), nz));
      const at = entry(x, y, z, nx, ny);
      let low = f32x4.splat(f32.MAX_VALUE);
      let high = f32x4.splat(-f32.MAX_VALUE);
      for (let corner = 0; corner < 4; corner++) {
        const on = (corner & 1) * nx + (corner >> 1) * nxy;
        const base = from + ((<usize>on) << 2);
        const a = two(base + <usize>i32x4.extract_lane(at, 0), base + <usize>i32x4.extract_lane(at, 1));
        const b = two(base + <usize>i32x4.extract_lane(at, 2), base + <usize>i32x4.extract_lane(at, 3));
        low = f32x4.pmin(low, f32x4.pmin(firsts(a, b), seconds(a, b)));
        high = f32x4.pmax(high, f32x4.pmax(firsts(a, b), seconds(a, b)));
      }
      const isBeyond = v128.or(f32x4.lt(right, low), f32x4.gt(right, high));
      v128.store(to, f32x4.mul(kept, v128.bitselect(there, right, isBeyond)));
    }
  }
}
