/** What sets air going and what stops it: see air.ts. */
import { at, four, isAround } from "./air";
import { lengthOf } from "./vectors";

/** Pushes on lower faces: by what is warm upwards, by what is dense downwards, and by lanes of pushes at cells, 0 for none. All in cells a second. */
export function fluidPush(
  n: i32, first: i32, u: usize, v: usize, w: usize, density: usize, heat: usize, px: usize, py: usize, pz: usize,
  nxf: f32, nyf: f32, nzf: f32, rise: f32, weight: f32, keep: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const nxy = nx * ny;
  const half = f32x4.splat(0.5);
  const kept = f32x4.splat(keep);
  for (let row = first; row < first + n; row++) {
    if (isAround(row, ny, nz)) continue;
    for (let i = 1; i < nx - 1; i += 4) {
      const cell = row * nx + i;
      const to = (<usize>cell) << 2;
      const below = cell - nx;
      const warm = f32x4.mul(f32x4.splat(rise), f32x4.add(four(heat, cell), four(heat, below)));
      const dense = f32x4.mul(f32x4.splat(weight), f32x4.add(four(density, cell), four(density, below)));
      let a = f32x4.splat(0);
      let b = f32x4.mul(half, f32x4.sub(warm, dense));
      let c = a;
      if (px) {
        a = f32x4.mul(half, f32x4.add(four(px, cell), four(px, cell - 1)));
        b = f32x4.add(b, f32x4.mul(half, f32x4.add(four(py, cell), four(py, below))));
        c = f32x4.mul(half, f32x4.add(four(pz, cell), four(pz, cell - nxy)));
      }
      v128.store(u + to, f32x4.mul(kept, f32x4.add(v128.load(u + to), a)));
      v128.store(v + to, f32x4.mul(kept, f32x4.add(v128.load(v + to), b)));
      v128.store(w + to, f32x4.mul(kept, f32x4.add(v128.load(w + to), c)));
    }
  }
}

/** A quarter of what two cells have more than two others. */
@inline
function quarterOf(lane: usize, a: i32, b: i32, c: i32, d: i32): v128 {
  const more = f32x4.sub(f32x4.sub(f32x4.add(four(lane, a), four(lane, b)), four(lane, c)), four(lane, d));
  return f32x4.mul(f32x4.splat(0.25), more);
}

/** What is across of two ways, one part of it. */
@inline
function across(a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.sub(f32x4.mul(a, b), f32x4.mul(c, d));
}

/** How the air turns at middles of cells (curl), and how fast. */
export function fluidCurl(
  n: i32, first: i32, cx: usize, cy: usize, cz: usize, size: usize, u: usize, v: usize, w: usize, nxf: f32, nyf: f32, nzf: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const nxy = nx * ny;
  for (let row = first; row < first + n; row++) {
    const begin = (<usize>(row * nx)) << 2;
    const bytes = (<usize>nx) << 2;
    const isBorder = isAround(row, ny, nz);
    for (let lane = 0; lane < 4; lane++) {
      const to = (lane == 0 ? size : lane == 1 ? cx : lane == 2 ? cy : cz) + begin;
      if (isBorder) memory.fill(to, 0, bytes);
      store<f32>(to, 0);
      store<f32>(to + bytes - 4, 0);
    }
    if (isBorder) continue;
    for (let i = 1; i < nx - 1; i += 4) {
      const cell = row * nx + i;
      const to = (<usize>cell) << 2;
      // Speeds at the middles of the cells beside them, each the mean of its two faces.
      const wy = quarterOf(w, cell + nx, cell + nx + nxy, cell - nx, cell - nx + nxy);
      const vz = quarterOf(v, cell + nxy, cell + nxy + nx, cell - nxy, cell - nxy + nx);
      const uz = quarterOf(u, cell + nxy, cell + nxy + 1, cell - nxy, cell - nxy + 1);
      const wx = quarterOf(w, cell + 1, cell + 1 + nxy, cell - 1, cell - 1 + nxy);
      const vx = quarterOf(v, cell + 1, cell + 1 + nx, cell - 1, cell - 1 + nx);
      const uy = quarterOf(u, cell + nx, cell + nx + 1, cell - nx, cell - nx + 1);
      const a = f32x4.sub(wy, vz);
      const b = f32x4.sub(uz, wx);
      const c = f32x4.sub(vx, uy);
      v128.store(cx + to, a);
      v128.store(cy + to, b);
      v128.store(cz + to, c);
      v128.store(size + to, lengthOf(a, b, c));
    }
  }
}

/**
 * What keeps eddies turning that the grid would lose (R. Fedkiw, J. Stam and H. Jensen, "Visual simulation of smoke", 2001): pushes at middles of
 * cells, written in place of the curl. @param strength cells a second
 */
export function fluidConfine(
  n: i32, first: i32, cx: usize, cy: usize, cz: usize, size: usize, nxf: f32, nyf: f32, nzf: f32, strength: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const nxy = nx * ny;
  for (let row = first; row < first + n; row++) {
    if (isAround(row, ny, nz)) continue;
    for (let i = 1; i < nx - 1; i += 4) {
      const cell = row * nx + i;
      const to = (<usize>cell) << 2;
      const gx = f32x4.sub(four(size, cell + 1), four(size, cell - 1));
      const gy = f32x4.sub(four(size, cell + nx), four(size, cell - nx));
      const gz = f32x4.sub(four(size, cell + nxy), four(size, cell - nxy));
      const long = f32x4.div(f32x4.splat(strength), f32x4.pmax(f32x4.splat(1e-6), lengthOf(gx, gy, gz)));
      const a = four(cx, cell);
      const b = four(cy, cell);
      const c = four(cz, cell);
      v128.store(cx + to, f32x4.mul(long, across(gy, c, gz, b)));
      v128.store(cy + to, f32x4.mul(long, across(gz, a, gx, c)));
      v128.store(cz + to, f32x4.mul(long, across(gx, b, gy, a)));
    }
  }
}

/** Speeds through faces at solid cells are those of what is solid, or none; the others stay. @param back to the cell before each face */
@inline
function wallFour(lane: usize, solid: usize, kinds: usize, cell: i32, back: i32): void {
  const none = f32x4.splat(0);
  const isSolid = f32x4.eq(four(kinds, cell), none);
  const isWall = v128.or(isSolid, f32x4.eq(four(kinds, cell - back), none));
  if (!v128.any_true(isWall)) return;
  const speed = solid ? v128.bitselect(four(solid, cell), four(solid, cell - back), isSolid) : none;
  const to = lane + ((<usize>cell) << 2);
  v128.store(to, v128.bitselect(speed, v128.load(to), isWall));
}

@inline
function wallOne(lane: usize, solid: usize, kinds: usize, cell: i32, back: i32): void {
  const isSolid = at(kinds, cell) == 0;
  if (!isSolid && at(kinds, cell - back) != 0) return;
  store<f32>(lane + ((<usize>cell) << 2), solid ? at(solid, isSolid ? cell : cell - back) : 0);
}

/** No air goes through walls. @param su sv sw speeds of what is solid, by cells; 0 for none */
export function fluidWalls(
  n: i32, first: i32, u: usize, v: usize, w: usize, kinds: usize, su: usize, sv: usize, sw: usize, nxf: f32, nyf: f32, nzf: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nxy = nx * ny;
  for (let row = first; row < first + n; row++) {
    const j = row % ny;
    const k = row / ny;
    const begin = row * nx;
    for (let i = 1; i < nx - 1; i += 4) {
      wallFour(u, su, kinds, begin + i, 1);
      if (j > 0) wallFour(v, sv, kinds, begin + i, nx);
      if (k > 0) wallFour(w, sw, kinds, begin + i, nxy);
    }
    wallOne(u, su, kinds, begin + nx - 1, 1);
    for (let cell = begin; cell < begin + nx; cell += nx - 1) {
      if (j > 0) wallOne(v, sv, kinds, cell, nx);
      if (k > 0) wallOne(w, sw, kinds, cell, nxy);
    }
  }
}

/** How much more air leaves each moving cell than comes, 0 elsewhere; the cells around do not move. */
export function fluidDivergence(
  n: i32, first: i32, out: usize, u: usize, v: usize, w: usize, kinds: usize, nxf: f32, nyf: f32, nzf: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const nxy = nx * ny;
  for (let row = first; row < first + n; row++) {
    const begin = row * nx;
    const to = out + ((<usize>begin) << 2);
    if (isAround(row, ny, nz)) {
      memory.fill(to, 0, (<usize>nx) << 2);
      continue;
    }
    store<f32>(to, 0);
    store<f32>(to + ((<usize>(nx - 1)) << 2), 0);
    for (let i = 1; i < nx - 1; i += 4) {
      const cell = begin + i;
      const isAir = f32x4.eq(four(kinds, cell), f32x4.splat(1));
      // One after the other, as the sum of single cells would be.
      const upward = f32x4.sub(f32x4.add(f32x4.sub(four(u, cell + 1), four(u, cell)), four(v, cell + nx)), four(v, cell));
      const all = f32x4.sub(f32x4.add(upward, four(w, cell + nxy)), four(w, cell));
      v128.store(out + ((<usize>cell) << 2), v128.and(isAir, all));
    }
  }
}
