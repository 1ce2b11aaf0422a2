/**
 * Points held together by constraints, in small steps (M. Macklin, M. Müller and N. Chentanez, "XPBD", 2016; M. Macklin et al., "Small steps in
 * physics simulation", 2019). Lanes of n points begin at 0; `w` is 1 ÷ mass, 0 for points that are led. Places (x y z, and px py pz where they were) are
 * float64: in small steps what moves a point is less than a float32 of its place can tell. Those of a point stand beside each other, and a 0 behind them, so
 * that one look at the memory brings all three.
 */

/** Bytes from the x of a point to that of the next, as a power of two. */
const BESIDE: i32 = 5;

@inline
function get(lane: usize, i: i32): f32 {
  return load<f32>(lane + ((<usize>i) << 2));
}

@inline
function put(lane: usize, i: i32, v: f32): void {
  store<f32>(lane + ((<usize>i) << 2), v);
}

@inline
function at(lane: usize, i: i32): f64 {
  return load<f64>(lane + ((<usize>i) << BESIDE));
}

@inline
function move(lane: usize, i: i32, v: f64): void {
  store<f64>(lane + ((<usize>i) << BESIDE), v);
}

/** Where points go by their speed; those that are led go a part of the way to where they are to be. @param ax ay az what speeds them up */
export function softBegin(
  n: i32, x: usize, y: usize, z: usize, px: usize, py: usize, pz: usize, vx: usize, vy: usize, vz: usize, w: usize,
  tx: usize, ty: usize, tz: usize, ax: usize, ay: usize, az: usize, part: f32, dt: f32,
): void {
  for (let i = 0; i < n; i++) {
    const a = at(x, i);
    const b = at(y, i);
    const c = at(z, i);
    move(px, i, a);
    move(py, i, b);
    move(pz, i, c);
    if (get(w, i) > 0) {
      const u = get(vx, i) + dt * get(ax, i);
      const v = get(vy, i) + dt * get(ay, i);
      const s = get(vz, i) + dt * get(az, i);
      move(x, i, a + <f64>(dt * u));
      move(y, i, b + <f64>(dt * v));
      move(z, i, c + <f64>(dt * s));
    } else {
      move(x, i, a + <f64>part * (<f64>get(tx, i) - a));
      move(y, i, b + <f64>part * (<f64>get(ty, i) - b));
      move(z, i, c + <f64>part * (<f64>get(tz, i) - c));
    }
  }
}

/**
 * Distances between pairs of points, one after the other in their order.
 * @param pairs two numbers of points each, not of the same one @param rest wanted distances, below 0 for what is torn
 * @param alpha compliance ÷ dt² @param onlyLonger 1 for ties, which do nothing while they are slack
 */
export function softPairs(
  n: i32, pairs: usize, rest: usize, places: usize, w: usize, alpha: f32, onlyLonger: i32,
): void {
  for (let e = 0; e < n; e++) {
    const wanted = get(rest, e);
    if (wanted < 0) continue;
    const i = load<i32>(pairs + ((<usize>e) << 3));
    const j = load<i32>(pairs + ((<usize>e) << 3), 4);
    const wi = get(w, i);
    const wj = get(w, j);
    if (wi + wj == 0) continue;
    const one = places + ((<usize>i) << BESIDE);
    const other = places + ((<usize>j) << BESIDE);
    // x and y, then z and the 0.
    const a = v128.load(one);
    const b = v128.load(one, 16);
    const c = v128.load(other);
    const d = v128.load(other, 16);
    const flat = f32x4.demote_f64x2_zero(f64x2.sub(a, c));
    const deep = f32x4.demote_f64x2_zero(f64x2.sub(b, d));
    const squares = f32x4.mul(flat, flat);
    const last = f32x4.extract_lane(deep, 0);
    const long = sqrt<f32>(f32x4.extract_lane(squares, 0) + f32x4.extract_lane(squares, 1) + last * last);
    const more = long - wanted;
    if (long < 1e-12 || (onlyLonger && more < 0)) continue;
    const by = more / ((wi + wj + alpha) * long);
    const byOne = f32x4.splat(wi * by);
    const byOther = f32x4.splat(wj * by);
    v128.store(one, f64x2.sub(a, f64x2.promote_low_f32x4(f32x4.mul(byOne, flat))));
    v128.store(one, f64x2.sub(b, f64x2.promote_low_f32x4(f32x4.mul(byOne, deep))), 16);
    v128.store(other, f64x2.add(c, f64x2.promote_low_f32x4(f32x4.mul(byOther, flat))));
    v128.store(other, f64x2.add(d, f64x2.promote_low_f32x4(f32x4.mul(byOther, deep))), 16);
  }
}

/** What triangles enclose, cubic units, and into gx gy gz how each point changes it. @param corners three points each @param count of points */
export function softEnclosed(
  n: i32, corners: usize, count: i32, x: usize, y: usize, z: usize, gx: usize, gy: usize, gz: usize,
): f64 {
  memory.fill(gx, 0, (<usize>count) << 2);
  memory.fill(gy, 0, (<usize>count) << 2);
  memory.fill(gz, 0, (<usize>count) << 2);
  let sum: f64 = 0;
  for (let t = 0; t < n; t++) {
    const three = corners + <usize>t * 12;
    for (let k = 0; k < 3; k++) {
      const i = load<i32>(three + ((<usize>k) << 2));
      const j = load<i32>(three + ((<usize>((k + 1) % 3)) << 2));
      const l = load<i32>(three + ((<usize>((k + 2) % 3)) << 2));
      const cx = at(y, j) * at(z, l) - at(z, j) * at(y, l);
      const cy = at(z, j) * at(x, l) - at(x, j) * at(z, l);
      const cz = at(x, j) * at(y, l) - at(y, j) * at(x, l);
      put(gx, i, get(gx, i) + <f32>(cx / 6));
      put(gy, i, get(gy, i) + <f32>(cy / 6));
      put(gz, i, get(gz, i) + <f32>(cz / 6));
      if (k == 0) sum += (at(x, i) * cx + at(y, i) * cy + at(z, i) * cz) / 6;
    }
  }
  return sum;
}

/** One constraint of all points: those that are not led go along their gradient. @param off what is too much @param alpha compliance ÷ dt² */
export function softTogether(
  n: i32, x: usize, y: usize, z: usize, w: usize, gx: usize, gy: usize, gz: usize, off: f64, alpha: f64,
): void {
  let all = alpha;
  for (let i = 0; i < n; i++) {
    const a = <f64>get(gx, i);
    const b = <f64>get(gy, i);
    const c = <f64>get(gz, i);
    all += <f64>get(w, i) * (a * a + b * b + c * c);
  }
  if (all < 1e-30) return;
  const by = <f32>(-off / all);
  for (let i = 0; i < n; i++) {
    const share = get(w, i) * by;
    move(x, i, at(x, i) + <f64>(share * get(gx, i)));
    move(y, i, at(y, i) + <f64>(share * get(gy, i)));
    move(z, i, at(z, i) + <f64>(share * get(gz, i)));
  }
}

/** Points part of the way to places of their own. @param alpha compliance ÷ dt², a number a point; infinite for none */
export function softHome(
  n: i32, x: usize, y: usize, z: usize, w: usize, tx: usize, ty: usize, tz: usize, alpha: usize,
): void {
  for (let i = 0; i < n; i++) {
    const own = get(w, i);
    const by = own / (own + get(alpha, i));
    if (!(by > 0)) continue;
    move(x, i, at(x, i) + <f64>by * (<f64>get(tx, i) - at(x, i)));
    move(y, i, at(y, i) + <f64>by * (<f64>get(ty, i) - at(y, i)));
    move(z, i, at(z, i) + <f64>by * (<f64>get(tz, i) - at(z, i)));
  }
}

/**
 * Out of planes that points lean on: a place and a facing each, whose facing is 0 0 0 for none.
 * @param gap units that points stay above them @param friction part of the way along the plane that is lost, at most as far as pushed out times it
 */
export function softContacts(
  n: i32, x: usize, y: usize, z: usize, px: usize, py: usize, pz: usize, w: usize,
  qx: usize, qy: usize, qz: usize, nx: usize, ny: usize, nz: usize, gap: f32, friction: f32,
): void {
  for (let i = 0; i < n; i++) {
    if (get(w, i) == 0) continue;
    const a = <f64>get(nx, i);
    const b = <f64>get(ny, i);
    const c = <f64>get(nz, i);
    if (a == 0 && b == 0 && c == 0) continue;
    const sx = at(x, i);
    const sy = at(y, i);
    const sz = at(z, i);
    const deep = <f64>gap - (a * (sx - <f64>get(qx, i)) + b * (sy - <f64>get(qy, i)) + c * (sz - <f64>get(qz, i)));
    if (deep <= 0) continue;
    let tx = sx + deep * a;
    let ty = sy + deep * b;
    let tz = sz + deep * c;
    // What it went along the plane in this step.
    let mx = tx - at(px, i);
    let my = ty - at(py, i);
    let mz = tz - at(pz, i);
    const out = mx * a + my * b + mz * c;
    mx -= out * a;
    my -= out * b;
    mz -= out * c;
    const long = sqrt<f64>(mx * mx + my * my + mz * mz);
    if (long > 1e-12) {
      const less = min<f64>(1, (<f64>friction * deep) / long);
      tx -= less * mx;
      ty -= less * my;
      tz -= less * mz;
    }
    move(x, i, tx);
    move(y, i, ty);
    move(z, i, tz);
  }
}

/** Speeds from where points were. @param keep part of the speed that is left @param most units a second */
export function softEnd(
  n: i32, x: usize, y: usize, z: usize, px: usize, py: usize, pz: usize, vx: usize, vy: usize, vz: usize, keep: f32, dt: f32, most: f32,
): void {
  const per = keep / dt;
  for (let i = 0; i < n; i++) {
    let u = <f32>(at(x, i) - at(px, i)) * per;
    let v = <f32>(at(y, i) - at(py, i)) * per;
    let s = <f32>(at(z, i) - at(pz, i)) * per;
    const long = sqrt<f32>(u * u + v * v + s * s);
    if (long > most) {
      const less = most / long;
      u *= less;
      v *= less;
      s *= less;
    }
    put(vx, i, u);
    put(vy, i, v);
    put(vz, i, s);
  }
}
