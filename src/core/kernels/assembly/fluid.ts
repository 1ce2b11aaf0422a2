/**
 * Air on a staggered grid (F. Harlow and J. Welch, 1965; R. Bridson, "Fluid Simulation for Computer Graphics", 2008), row by row: rows first …
 * first + n − 1 of all, y running faster than z. A grid has one cell around it that belongs to nobody: cells 0 and n − 1 of each axis. `u`, `v`
 * and `w` are speeds through the lower faces of cells, in cells a second; `kinds` are 0 for solid, 1 for air that moves, 2 for open.
 */

@inline
function at(base: usize, i: i32): f32 {
  return load<f32>(base + ((<usize>i) << 2));
}

/** A lane between cells by three straight ways; `cell` is the first of the eight. */
@inline
function blend(lane: usize, cell: i32, nx: i32, nxy: i32, fx: f32, fy: f32, fz: f32): f32 {
  const p = lane + ((<usize>cell) << 2);
  const row = (<usize>nx) << 2;
  const layer = (<usize>nxy) << 2;
  const a = load<f32>(p);
  const b = load<f32>(p + row);
  const c = load<f32>(p + layer);
  const d = load<f32>(p + layer + row);
  const ab0 = a + (load<f32>(p, 4) - a) * fx;
  const ab1 = b + (load<f32>(p + row, 4) - b) * fx;
  const cd0 = c + (load<f32>(p + layer, 4) - c) * fx;
  const cd1 = d + (load<f32>(p + layer + row, 4) - d) * fx;
  const near = ab0 + (ab1 - ab0) * fy;
  return near + (cd0 + (cd1 - cd0) * fy - near) * fz;
}

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

@inline
function between(a: v128, b: v128, f: v128): v128 {
  return f32x4.add(a, f32x4.mul(f32x4.sub(b, a), f));
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

@inline
function four(lane: usize, cell: i32): v128 {
  return v128.load(lane + ((<usize>cell) << 2));
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
  const half = <f32>0.5 * steps;
  for (let row = first; row < first + n; row++) {
    const j = row % ny;
    const k = row / ny;
    if (j == 0 || k == 0 || j == ny - 1 || k == nz - 1) continue;
    const halfway = f32x4.splat(half * 0.5);
    const all = f32x4.splat(steps);
    const face = f32x4.splat(0.5);
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
  const before = face == 1 ? 1 : face == 2 ? nx : face == 3 ? nx * ny : 0;
  for (let row = first; row < first + n; row++) {
    const j = row % ny;
    const k = row / ny;
    const begin = (<usize>(row * nx)) << 2;
    const bytes = (<usize>nx) << 2;
    if (j == 0 || k == 0 || j == ny - 1 || k == nz - 1) {
      memory.copy(out + begin, from + begin, bytes);
      if (out2) memory.copy(out2 + begin, from2 + begin, bytes);
      continue;
    }
    const half = f32x4.splat(0.5);
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
  for (let row = first; row < first + n; row++) {
    const j = row % ny;
    const k = row / ny;
    if (j == 0 || k == 0 || j == ny - 1 || k == nz - 1) continue;
    const half = f32x4.splat(0.5);
    const kept = f32x4.splat(keep);
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
        const base = from + ((<usize>((corner & 1 ? nx : 0) + (corner & 2 ? nxy : 0))) << 2);
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

/** Pushes on lower faces: by what is warm upwards, by what is dense downwards, and by lanes of pushes at cells, 0 for none. All in cells a second. */
export function fluidPush(
  n: i32, first: i32, u: usize, v: usize, w: usize, density: usize, heat: usize, px: usize, py: usize, pz: usize,
  nxf: f32, nyf: f32, nzf: f32, rise: f32, weight: f32, keep: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const nxy = nx * ny;
  for (let row = first; row < first + n; row++) {
    const j = row % ny;
    const k = row / ny;
    if (j == 0 || k == 0 || j == ny - 1 || k == nz - 1) continue;
    for (let i = 1; i < nx - 1; i++) {
      const cell = row * nx + i;
      const to = (<usize>cell) << 2;
      const below = cell - nx;
      const up = <f32>0.5 * (rise * (at(heat, cell) + at(heat, below)) - weight * (at(density, cell) + at(density, below)));
      let a: f32 = 0;
      let b: f32 = up;
      let c: f32 = 0;
      if (px) {
        a = 0.5 * (at(px, cell) + at(px, cell - 1));
        b += 0.5 * (at(py, cell) + at(py, below));
        c = 0.5 * (at(pz, cell) + at(pz, cell - nxy));
      }
      store<f32>(u + to, keep * (load<f32>(u + to) + a));
      store<f32>(v + to, keep * (load<f32>(v + to) + b));
      store<f32>(w + to, keep * (load<f32>(w + to) + c));
    }
  }
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
    const j = row % ny;
    const k = row / ny;
    for (let i = 0; i < nx; i++) {
      const cell = row * nx + i;
      const to = (<usize>cell) << 2;
      if (i == 0 || j == 0 || k == 0 || i == nx - 1 || j == ny - 1 || k == nz - 1) {
        store<f32>(size + to, 0);
        store<f32>(cx + to, 0);
        store<f32>(cy + to, 0);
        store<f32>(cz + to, 0);
        continue;
      }
      // Speeds at the middles of the cells beside it, each the mean of its two faces.
      const wy = <f32>0.25 * (at(w, cell + nx) + at(w, cell + nx + nxy) - at(w, cell - nx) - at(w, cell - nx + nxy));
      const vz = <f32>0.25 * (at(v, cell + nxy) + at(v, cell + nxy + nx) - at(v, cell - nxy) - at(v, cell - nxy + nx));
      const uz = <f32>0.25 * (at(u, cell + nxy) + at(u, cell + nxy + 1) - at(u, cell - nxy) - at(u, cell - nxy + 1));
      const wx = <f32>0.25 * (at(w, cell + 1) + at(w, cell + 1 + nxy) - at(w, cell - 1) - at(w, cell - 1 + nxy));
      const vx = <f32>0.25 * (at(v, cell + 1) + at(v, cell + 1 + nx) - at(v, cell - 1) - at(v, cell - 1 + nx));
      const uy = <f32>0.25 * (at(u, cell + nx) + at(u, cell + nx + 1) - at(u, cell - nx) - at(u, cell - nx + 1));
      const a = wy - vz;
      const b = uz - wx;
      const c = vx - uy;
      store<f32>(cx + to, a);
      store<f32>(cy + to, b);
      store<f32>(cz + to, c);
      store<f32>(size + to, sqrt<f32>(a * a + b * b + c * c));
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
    const j = row % ny;
    const k = row / ny;
    if (j < 1 || k < 1 || j >= ny - 1 || k >= nz - 1) continue;
    for (let i = 1; i < nx - 1; i++) {
      const cell = row * nx + i;
      const to = (<usize>cell) << 2;
      const gx = at(size, cell + 1) - at(size, cell - 1);
      const gy = at(size, cell + nx) - at(size, cell - nx);
      const gz = at(size, cell + nxy) - at(size, cell - nxy);
      const long = strength / max<f32>(sqrt<f32>(gx * gx + gy * gy + gz * gz), 1e-6);
      const a = at(cx, cell);
      const b = at(cy, cell);
      const c = at(cz, cell);
      store<f32>(cx + to, long * (gy * c - gz * b));
      store<f32>(cy + to, long * (gz * a - gx * c));
      store<f32>(cz + to, long * (gx * b - gy * a));
    }
  }
}

/** Speeds through faces of solid cells are none; the others stay. */
@inline
function wall(kinds: usize, cell: i32, beside: i32): bool {
  return at(kinds, cell) == 0 || at(kinds, beside) == 0;
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
    for (let i = 0; i < nx; i++) {
      const cell = row * nx + i;
      const to = (<usize>cell) << 2;
      if (i > 0 && wall(kinds, cell, cell - 1))
        store<f32>(u + to, su ? at(su, at(kinds, cell) == 0 ? cell : cell - 1) : 0);
      if (j > 0 && wall(kinds, cell, cell - nx))
        store<f32>(v + to, sv ? at(sv, at(kinds, cell) == 0 ? cell : cell - nx) : 0);
      if (k > 0 && wall(kinds, cell, cell - nxy))
        store<f32>(w + to, sw ? at(sw, at(kinds, cell) == 0 ? cell : cell - nxy) : 0);
    }
  }
}

/** How much more air leaves each moving cell than comes, 0 elsewhere. */
export function fluidDivergence(
  n: i32, first: i32, out: usize, u: usize, v: usize, w: usize, kinds: usize, nxf: f32, nyf: f32, nzf: f32,
): void {
  const nx = <i32>nxf;
  const nxy = nx * <i32>nyf;
  for (let row = first; row < first + n; row++)
    for (let i = 0; i < nx; i++) {
      const cell = row * nx + i;
      const value: f32 =
        at(kinds, cell) == 1
          ? at(u, cell + 1) - at(u, cell) + at(v, cell + nx) - at(v, cell) + at(w, cell + nxy) - at(w, cell)
          : 0;
      store<f32>(out + ((<usize>cell) << 2), value);
    }
}

/** The pressure of a cell beside: open ones have 0. */
@inline
function beside(p: usize, kinds: usize, cell: i32, other: i32): f32 {
  return at(kinds, other) == 1 ? at(p, other) : 0;
}

/** How many cells beside each moving one are not solid, 0 for all that do not move: what its pressure counts. */
export function fluidOpenings(n: i32, first: i32, out: usize, kinds: usize, nxf: f32, nyf: f32, nzf: f32): void {
  const nx = <i32>nxf;
  const nxy = nx * <i32>nyf;
  for (let row = first; row < first + n; row++)
    for (let i = 0; i < nx; i++) {
      const cell = row * nx + i;
      let count: f32 = 0;
      if (at(kinds, cell) == 1) {
        count = 6;
        if (at(kinds, cell - 1) == 0) count -= 1;
        if (at(kinds, cell + 1) == 0) count -= 1;
        if (at(kinds, cell - nx) == 0) count -= 1;
        if (at(kinds, cell + nx) == 0) count -= 1;
        if (at(kinds, cell - nxy) == 0) count -= 1;
        if (at(kinds, cell + nxy) == 0) count -= 1;
      }
      store<f32>(out + ((<usize>cell) << 2), count);
    }
}

/** The sums of the pressures beside four cells. Those of cells that do not move are 0. */
@inline
function sumBeside(at: usize, row: usize, layer: usize): v128 {
  const along = f32x4.add(v128.load(at - 4), v128.load(at + 4));
  const up = f32x4.add(f32x4.add(along, v128.load(at - row)), v128.load(at + row));
  return f32x4.add(f32x4.add(up, v128.load(at - layer)), v128.load(at + layer));
}

/**
 * One step of weighted Jacobi for (sum beside − count × p) = right × h². Four cells at once: those beyond the end of a row are the ones around the
 * grid, which stay 0, or of the next row, which become what they become anyway.
 * @param openings of fluidOpenings
 */
export function fluidRelax(
  n: i32, first: i32, out: usize, p: usize, right: usize, openings: usize, nxf: f32, nyf: f32, nzf: f32, weight: f32, square: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const row = (<usize>nx) << 2;
  const layer = row * <usize>ny;
  const weights = f32x4.splat(weight);
  const squares = f32x4.splat(square);
  for (let r = first; r < first + n; r++) {
    const j = r % ny;
    const k = r / ny;
    if (j == 0 || k == 0 || j == ny - 1 || k == nz - 1) continue;
    for (let i = 1; i < nx - 1; i += 4) {
      const to = (<usize>(r * nx + i)) << 2;
      const before = v128.load(p + to);
      const count = v128.load(openings + to);
      const wanted = f32x4.div(f32x4.sub(sumBeside(p + to, row, layer), f32x4.mul(squares, v128.load(right + to))), count);
      const value = f32x4.add(before, f32x4.mul(weights, f32x4.sub(wanted, before)));
      v128.store(out + to, v128.and(value, f32x4.gt(count, f32x4.splat(0))));
    }
  }
}

/** What is left of the equation. */
export function fluidResidual(
  n: i32, first: i32, out: usize, p: usize, right: usize, openings: usize, nxf: f32, nyf: f32, nzf: f32, square: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const row = (<usize>nx) << 2;
  const layer = row * <usize>ny;
  const squares = f32x4.splat(square);
  for (let r = first; r < first + n; r++) {
    const j = r % ny;
    const k = r / ny;
    if (j == 0 || k == 0 || j == ny - 1 || k == nz - 1) continue;
    for (let i = 1; i < nx - 1; i += 4) {
      const to = (<usize>(r * nx + i)) << 2;
      const count = v128.load(openings + to);
      const found = f32x4.sub(sumBeside(p + to, row, layer), f32x4.mul(count, v128.load(p + to)));
      const value = f32x4.sub(v128.load(right + to), f32x4.div(found, squares));
      v128.store(out + to, v128.and(value, f32x4.gt(count, f32x4.splat(0))));
    }
  }
}

/** What each cell of a grid of half as many is: it moves where any of its eight does, else it is open where any is. Rows are those of the coarse one. */
export function fluidCoarseKinds(n: i32, first: i32, out: usize, fine: usize, nxf: f32, nyf: f32, nzf: f32): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const fx = (nx - 2) * 2 + 2;
  const fy = (ny - 2) * 2 + 2;
  const fz = (nz - 2) * 2 + 2;
  for (let row = first; row < first + n; row++) {
    const j = row % ny;
    const k = row / ny;
    for (let i = 0; i < nx; i++) {
      let moves = false;
      let isOpen = false;
      for (let c = 0; c < 8; c++) {
        const x = fineOf(i, c & 1, nx, fx);
        const y = fineOf(j, (c >> 1) & 1, ny, fy);
        const z = fineOf(k, c >> 2, nz, fz);
        const kind = at(fine, (z * fy + y) * fx + x);
        if (kind == 1) moves = true;
        else if (kind == 2) isOpen = true;
      }
      store<f32>(out + ((<usize>(row * nx + i)) << 2), moves ? 1 : isOpen ? 2 : 0);
    }
  }
}

/** Which of the two fine cells along an axis; the one around is as wide on all grids. */
@inline
function fineOf(v: i32, step: i32, coarse: i32, fine: i32): i32 {
  return v == 0 ? 0 : v == coarse - 1 ? fine - 1 : 2 * v - 1 + step;
}

/** The mean of what is left of eight cells, on a grid of half as many; rows are those of the coarse one. */
export function fluidCoarsen(
  n: i32, first: i32, out: usize, fine: usize, kinds: usize, nxf: f32, nyf: f32, nzf: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const fx = (nx - 2) * 2 + 2;
  const fxy = fx * ((ny - 2) * 2 + 2);
  for (let row = first; row < first + n; row++) {
    const j = row % ny;
    const k = row / ny;
    for (let i = 0; i < nx; i++) {
      const cell = row * nx + i;
      let value: f32 = 0;
      if (i > 0 && j > 0 && k > 0 && i < nx - 1 && j < ny - 1 && k < nz - 1 && at(kinds, cell) == 1) {
        const f = (2 * k - 1) * fxy + (2 * j - 1) * fx + 2 * i - 1;
        value =
          0.125 *
          (at(fine, f) + at(fine, f + 1) + at(fine, f + fx) + at(fine, f + fx + 1) + at(fine, f + fxy) + at(fine, f + fxy + 1) +
            at(fine, f + fxy + fx) + at(fine, f + fxy + fx + 1));
      }
      store<f32>(out + ((<usize>cell) << 2), value);
    }
  }
}

/** Adds what was found on the coarse grid, between its cells by three straight ways; rows are those of the fine one. */
export function fluidRefine(
  n: i32, first: i32, p: usize, coarse: usize, kinds: usize, nxf: f32, nyf: f32, nzf: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nz = <i32>nzf;
  const cx = (nx - 2) / 2 + 2;
  const cxy = cx * ((ny - 2) / 2 + 2);
  for (let row = first; row < first + n; row++) {
    const j = row % ny;
    const k = row / ny;
    if (j == 0 || k == 0 || j == ny - 1 || k == nz - 1) continue;
    // A fine cell lies a quarter of a coarse one beside the middle of its own.
    const y = <f32>j * 0.5 + 0.25;
    const z = <f32>k * 0.5 + 0.25;
    const b = <i32>y;
    const c = <i32>z;
    const coarseRow = c * cxy + b * cx;
    const fy = f32x4.splat(y - <f32>b);
    const fz = f32x4.splat(z - <f32>c);
    let i = 1;
    for (; i + 4 < nx; i += 4) {
      const to = p + ((<usize>(row * nx + i)) << 2);
      const first = coarse + ((<usize>(coarseRow + (i >> 1))) << 2);
      const near = between(refined(first), refined(first + ((<usize>cx) << 2)), fy);
      const layer = first + ((<usize>cxy) << 2);
      const far = between(refined(layer), refined(layer + ((<usize>cx) << 2)), fy);
      const isAir = f32x4.eq(four(kinds, row * nx + i), f32x4.splat(1));
      v128.store(to, f32x4.add(v128.load(to), v128.and(isAir, between(near, far, fz))));
    }
    for (; i < nx - 1; i++) {
      const cell = row * nx + i;
      if (at(kinds, cell) != 1) continue;
      const x = <f32>i * 0.5 + 0.25;
      const a = <i32>x;
      const to = p + ((<usize>cell) << 2);
      store<f32>(to, load<f32>(to) + blend(coarse, coarseRow + a, cx, cxy, x - <f32>a, y - <f32>b, z - <f32>c));
    }
  }
}

/** Four fine entries of a row between coarse ones, the first of which lies three quarters of the way from one to the next. */
@inline
function refined(first: usize): v128 {
  const c = v128.load(first);
  return between(v128.shuffle<f32>(c, c, 0, 1, 1, 2), v128.shuffle<f32>(c, c, 1, 2, 2, 3), f32x4(0.75, 0.25, 0.75, 0.25));
}

/** Takes from each face what the pressure pushes through it. */
export function fluidProject(
  n: i32, first: i32, u: usize, v: usize, w: usize, p: usize, kinds: usize, nxf: f32, nyf: f32, nzf: f32,
): void {
  const nx = <i32>nxf;
  const ny = <i32>nyf;
  const nxy = nx * ny;
  for (let row = first; row < first + n; row++) {
    const j = row % ny;
    const k = row / ny;
    for (let i = 0; i < nx; i++) {
      const cell = row * nx + i;
      const to = (<usize>cell) << 2;
      const own = at(kinds, cell);
      if (own == 0) continue;
      const here: f32 = own == 1 ? at(p, cell) : 0;
      if (i > 0 && at(kinds, cell - 1) != 0 && (own == 1 || at(kinds, cell - 1) == 1))
        store<f32>(u + to, load<f32>(u + to) - (here - beside(p, kinds, cell, cell - 1)));
      if (j > 0 && at(kinds, cell - nx) != 0 && (own == 1 || at(kinds, cell - nx) == 1))
        store<f32>(v + to, load<f32>(v + to) - (here - beside(p, kinds, cell, cell - nx)));
      if (k > 0 && at(kinds, cell - nxy) != 0 && (own == 1 || at(kinds, cell - nxy) == 1))
        store<f32>(w + to, load<f32>(w + to) - (here - beside(p, kinds, cell, cell - nxy)));
    }
  }
}
