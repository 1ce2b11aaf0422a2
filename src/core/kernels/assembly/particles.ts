/**
 * Particles a step on: gravity, a push of each one's own and linear drag, exactly for a push that stays for the step. With
 * v′ = a − k v over a step of h seconds: keeps = e^(−kh), way = (1 − keeps) ÷ k, further = (h − way) ÷ k, so that
 * v₁ = keeps v₀ + way a and x₁ = x₀ + way v₀ + further a (for k → 0: 1, h, h² ÷ 2).
 *
 * Those that have reached their age are left out: a range writes what lives on without gaps from where it begins.
 */

/**
 * @param first number of the block's first particle
 * @param counts two integers of the range, 0 at first: how many it has written, and where it began, plus 1
 * @param x1 … life1 whole lanes, written @param x0 … life0 this block's
 * @param px py pz the push, this block's
 */
export function stepParticles(
  n: i32, first: i32, counts: usize,
  x1: usize, y1: usize, z1: usize, u1: usize, v1: usize, w1: usize, id1: usize, age1: usize, life1: usize,
  x0: usize, y0: usize, z0: usize, u0: usize, v0: usize, w0: usize, id0: usize, age0: usize, life0: usize,
  px: usize, py: usize, pz: usize,
  gx: f32, gy: f32, gz: f32, keeps: f32, way: f32, further: f32, seconds: f32,
): void {
  if (load<i32>(counts + 4) == 0) store<i32>(counts + 4, first + 1);
  const begin = load<i32>(counts + 4) - 1;
  let written = load<i32>(counts);
  const e = f32x4.splat(keeps);
  const b = f32x4.splat(way);
  const c = f32x4.splat(further);
  const h = f32x4.splat(seconds);
  const downX = f32x4.splat(gx);
  const downY = f32x4.splat(gy);
  const downZ = f32x4.splat(gz);
  for (let i = 0; i < n; i += 4) {
    const at = (<usize>i) << 2;
    const age = f32x4.add(v128.load(age0 + at), h);
    const life = v128.load(life0 + at);
    const ax = f32x4.add(downX, v128.load(px + at));
    const ay = f32x4.add(downY, v128.load(py + at));
    const az = f32x4.add(downZ, v128.load(pz + at));
    const u = v128.load(u0 + at);
    const v = v128.load(v0 + at);
    const w = v128.load(w0 + at);
    const x = f32x4.add(f32x4.add(v128.load(x0 + at), f32x4.mul(b, u)), f32x4.mul(c, ax));
    const y = f32x4.add(f32x4.add(v128.load(y0 + at), f32x4.mul(b, v)), f32x4.mul(c, ay));
    const z = f32x4.add(f32x4.add(v128.load(z0 + at), f32x4.mul(b, w)), f32x4.mul(c, az));
    const nu = f32x4.add(f32x4.mul(e, u), f32x4.mul(b, ax));
    const nv = f32x4.add(f32x4.mul(e, v), f32x4.mul(b, ay));
    const nw = f32x4.add(f32x4.mul(e, w), f32x4.mul(b, az));
    const left = n - i;
    let alive = i32x4.bitmask(f32x4.lt(age, life));
    if (left < 4) alive &= (1 << left) - 1;
    const to = (<usize>(begin + written)) << 2;
    if (alive == 15) {
      v128.store(x1 + to, x);
      v128.store(y1 + to, y);
      v128.store(z1 + to, z);
      v128.store(u1 + to, nu);
      v128.store(v1 + to, nv);
      v128.store(w1 + to, nw);
      v128.store(id1 + to, v128.load(id0 + at));
      v128.store(age1 + to, age);
      v128.store(life1 + to, life);
      written += 4;
    } else if (alive != 0) {
      written += compact(alive, x1 + to, x);
      compact(alive, y1 + to, y);
      compact(alive, z1 + to, z);
      compact(alive, u1 + to, nu);
      compact(alive, v1 + to, nv);
      compact(alive, w1 + to, nw);
      compact(alive, id1 + to, v128.load(id0 + at));
      compact(alive, age1 + to, age);
      compact(alive, life1 + to, life);
    }
  }
  store<i32>(counts, written);
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
