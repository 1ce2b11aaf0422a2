/**
 * Particles a step on: gravity, a push of each one's own and linear drag, exactly for a push that stays for the step. With
 * v′ = a − k v over a step of h seconds: keeps = e^(−kh), way = (1 − keeps) ÷ k, further = (h − way) ÷ k, so that
 * v₁ = keeps v₀ + way a and x₁ = x₀ + way v₀ + further a (for k → 0: 1, h, h² ÷ 2). A semi-implicit step takes the speed at its end
 * for all of it: x₁ = x₀ + h v₁.
 *
 * Those that have reached their age are left out: a range writes what lives on without gaps from where it begins.
 */
import { exponentialOf } from "./exponential";

/**
 * @param first number of the block's first particle
 * @param counts two integers of the range, 0 at first: how many it has written, and where it began, plus 1
 * @param x1 … life1 whole lanes, written @param x0 … life0 this block's
 * @param px py pz the push, this block's
 * @param placeWay further how speed and push count for the place
 */
export function stepParticles(
  n: i32, first: i32, counts: usize,
  x1: usize, y1: usize, z1: usize, u1: usize, v1: usize, w1: usize, id1: usize, age1: usize, life1: usize,
  x0: usize, y0: usize, z0: usize, u0: usize, v0: usize, w0: usize, id0: usize, age0: usize, life0: usize,
  px: usize, py: usize, pz: usize,
  keeps: f32, way: f32, placeWay: f32, further: f32, seconds: f32,
): void {
  if (load<i32>(counts + 4) == 0) store<i32>(counts + 4, first + 1);
  const begin = load<i32>(counts + 4) - 1;
  let written = load<i32>(counts);
  const e = f32x4.splat(keeps);
  const b = f32x4.splat(way);
  const d = f32x4.splat(placeWay);
  const c = f32x4.splat(further);
  const h = f32x4.splat(seconds);
  for (let i = 0; i < n; i += 4) {
    const at = (<usize>i) << 2;
    const age = f32x4.add(v128.load(age0 + at), h);
    const life = v128.load(life0 + at);
    const ax = v128.load(px + at);
    const ay = v128.load(py + at);
    const az = v128.load(pz + at);
    const u = v128.load(u0 + at);
    const v = v128.load(v0 + at);
    const w = v128.load(w0 + at);
    const x = f32x4.add(f32x4.add(v128.load(x0 + at), f32x4.mul(d, u)), f32x4.mul(c, ax));
    const y = f32x4.add(f32x4.add(v128.load(y0 + at), f32x4.mul(d, v)), f32x4.mul(c, ay));
    const z = f32x4.add(f32x4.add(v128.load(z0 + at), f32x4.mul(d, w)), f32x4.mul(c, az));
    const nu = f32x4.add(f32x4.mul(e, u), f32x4.mul(b, ax));
    const nv = f32x4.add(f32x4.mul(e, v), f32x4.mul(b, ay));
    const nw = f32x4.add(f32x4.mul(e, w), f32x4.mul(b, az));
    const left = n - i;
    let alive = i32x4.bitmask(f32x4.lt(age, life));
    if (left < 4) alive &= (1 << left) - 1;
    const to = (<usize>(begin + written)) << 2;
    written += leave(
      alive, to, x1, y1, z1, u1, v1, w1, id1, age1, life1, x, y, z, nu, nv, nw, v128.load(id0 + at), age, life,
    );
  }
  store<i32>(counts, written);
}

/**
 * The same with a drag and a pace of each one's own, and a way that it is carried besides.
 * @param drag of the speed, a second @param pace times the seconds @param sx sy sz the way @param semi 1 for semi-implicit steps
 */
export function stepParticlesEach(
  n: i32, first: i32, counts: usize,
  x1: usize, y1: usize, z1: usize, u1: usize, v1: usize, w1: usize, id1: usize, age1: usize, life1: usize,
  x0: usize, y0: usize, z0: usize, u0: usize, v0: usize, w0: usize, id0: usize, age0: usize, life0: usize,
  px: usize, py: usize, pz: usize, drag: usize, pace: usize, sx: usize, sy: usize, sz: usize,
  seconds: f32, semi: f32,
): void {
  if (load<i32>(counts + 4) == 0) store<i32>(counts + 4, first + 1);
  const begin = load<i32>(counts + 4) - 1;
  let written = load<i32>(counts);
  const all = f32x4.splat(seconds);
  for (let i = 0; i < n; i += 4) {
    const at = (<usize>i) << 2;
    const h = f32x4.mul(all, v128.load(pace + at));
    const k = f32x4.max(f32x4.splat(0), v128.load(drag + at));
    const kh = f32x4.mul(k, h);
    const e = exponentialOf(f32x4.neg(kh));
    // Of small drags the differences of nearly equal numbers have no digits left: Horner's form of the series.
    const near = f32x4.lt(kh, f32x4.splat(0.25));
    const b = v128.bitselect(f32x4.mul(h, partOf(kh, 2)), f32x4.div(f32x4.sub(f32x4.splat(1), e), k), near);
    const exact = v128.bitselect(
      f32x4.mul(f32x4.mul(f32x4.mul(h, h), f32x4.splat(0.5)), partOf(kh, 3)),
      f32x4.div(f32x4.sub(h, b), k),
      near,
    );
    const d = semi > 0.5 ? f32x4.mul(h, e) : b;
    const c = semi > 0.5 ? f32x4.mul(h, b) : exact;
    const age = f32x4.add(v128.load(age0 + at), h);
    const life = v128.load(life0 + at);
    const ax = v128.load(px + at);
    const ay = v128.load(py + at);
    const az = v128.load(pz + at);
    const u = v128.load(u0 + at);
    const v = v128.load(v0 + at);
    const w = v128.load(w0 + at);
    const x = moved(v128.load(x0 + at), d, u, c, ax, v128.load(sx + at));
    const y = moved(v128.load(y0 + at), d, v, c, ay, v128.load(sy + at));
    const z = moved(v128.load(z0 + at), d, w, c, az, v128.load(sz + at));
    const nu = f32x4.add(f32x4.mul(e, u), f32x4.mul(b, ax));
    const nv = f32x4.add(f32x4.mul(e, v), f32x4.mul(b, ay));
    const nw = f32x4.add(f32x4.mul(e, w), f32x4.mul(b, az));
    const left = n - i;
    let alive = i32x4.bitmask(f32x4.lt(age, life));
    if (left < 4) alive &= (1 << left) - 1;
    const to = (<usize>(begin + written)) << 2;
    written += leave(
      alive, to, x1, y1, z1, u1, v1, w1, id1, age1, life1, x, y, z, nu, nv, nw, v128.load(id0 + at), age, life,
    );
  }
  store<i32>(counts, written);
}

/** Writes those of four that live on, one after the other; returns how many. */
@inline
function leave(
  alive: i32, to: usize,
  x1: usize, y1: usize, z1: usize, u1: usize, v1: usize, w1: usize, id1: usize, age1: usize, life1: usize,
  x: v128, y: v128, z: v128, u: v128, v: v128, w: v128, id: v128, age: v128, life: v128,
): i32 {
  if (alive == 15) {
    v128.store(x1 + to, x);
    v128.store(y1 + to, y);
    v128.store(z1 + to, z);
    v128.store(u1 + to, u);
    v128.store(v1 + to, v);
    v128.store(w1 + to, w);
    v128.store(id1 + to, id);
    v128.store(age1 + to, age);
    v128.store(life1 + to, life);
    return 4;
  }
  if (alive == 0) return 0;
  const written = compact(alive, x1 + to, x);
  compact(alive, y1 + to, y);
  compact(alive, z1 + to, z);
  compact(alive, u1 + to, u);
  compact(alive, v1 + to, v);
  compact(alive, w1 + to, w);
  compact(alive, id1 + to, id);
  compact(alive, age1 + to, age);
  compact(alive, life1 + to, life);
  return written;
}

@inline
function moved(x: v128, d: v128, u: v128, c: v128, a: v128, s: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.add(x, f32x4.mul(d, u)), f32x4.mul(c, a)), s);
}

/** 1 − (x ÷ from)(1 − (x ÷ (from + 1))(1 − …)), seven terms deep. */
@inline
function partOf(x: v128, from: i32): v128 {
  let sum = f32x4.splat(1);
  for (let i = from + 6; i >= from; i--)
    sum = f32x4.sub(f32x4.splat(1), f32x4.mul(f32x4.div(x, f32x4.splat(<f32>i)), sum));
  return sum;
}

/** Writes those of four whose bit is set, one after the other; returns how many. */
@inline
function compact(bits: i32, to: usize, four: v128): i32 {
  let at = to;
  if (bits & 1) { store<i32>(at, i32x4.extract_lane(four, 0)); at += 4; }
  if (bits & 2) { store<i32>(at, i32x4.extract_lane(four, 1)); at += 4; }
  if (bits & 4) { store<i32>(at, i32x4.extract_lane(four, 2)); at += 4; }
  if (bits & 8) { store<i32>(at, i32x4.extract_lane(four, 3)); at += 4; }
  return <i32>((at - to) >> 2);
}
