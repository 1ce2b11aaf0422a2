/**
 * Springs and lags over lanes, in float64 between float32 lanes: the same formulas in the same order as core/maths/spring.ts,
 * so that a single value moves exactly as an element does.
 */

/** Bytes of one coefficient of a whole block of 1,024 elements. */
const PLANE: usize = 8192;
/** Of (turning × t)², see maths/spring.ts. */
const NEAR: f64 = 1e-2;

/**
 * How each element's offset and speed come out of a step: five planes of float64, a b c d and trail.
 * @param steps PLANE × 5 bytes, written
 */
export function springSteps(
  n: i32, steps: usize, stiffness: usize, damping: usize, mass: f64, t: f64,
): void {
  let k: f32 = NaN;
  let z: f32 = NaN;
  let a: f64 = 1, b: f64 = 0, c: f64 = 0, d: f64 = 1, trail: f64 = 0;
  for (let i = 0; i < n; i++) {
    const at = (<usize>i) << 2;
    const nextK = load<f32>(stiffness + at);
    const nextZ = load<f32>(damping + at);
    if (nextK != k || nextZ != z) {
      k = nextK;
      z = nextZ;
      const omega = Math.sqrt(Math.max(0, <f64>k) / mass);
      const zeta = Math.max(0, <f64>z);
      if (!(omega > 0)) {
        a = 1; b = t; c = 0; d = 1; trail = 0;
      } else {
        trail = (2 * zeta) / omega;
        const square = omega * omega * (1 - zeta * zeta) * t * t;
        if (Math.abs(square) < NEAR) {
          const e = Math.exp(-zeta * omega * t);
          const cos = 1 - (square / 2) * (1 - (square / 12) * (1 - square / 30));
          const sin = t * (1 - (square / 6) * (1 - (square / 20) * (1 - square / 42)));
          const share = zeta * omega;
          a = e * (cos + share * sin);
          b = e * sin;
          c = -omega * omega * e * sin;
          d = e * (cos - share * sin);
        } else if (zeta < 1) {
          const turning = omega * Math.sqrt(1 - zeta * zeta);
          const e = Math.exp(-zeta * omega * t);
          const cos = Math.cos(turning * t);
          const sin = Math.sin(turning * t);
          const share = (zeta * omega) / turning;
          a = e * (cos + share * sin);
          b = (e * sin) / turning;
          c = (-e * omega * omega * sin) / turning;
          d = e * (cos - share * sin);
        } else {
          const root = omega * Math.sqrt(zeta * zeta - 1);
          const slow = -zeta * omega + root;
          const fast = -zeta * omega - root;
          const es = Math.exp(slow * t);
          const ef = Math.exp(fast * t);
          const apart = slow - fast;
          a = (slow * ef - fast * es) / apart;
          b = (es - ef) / apart;
          c = (slow * fast * (ef - es)) / apart;
          d = (slow * es - fast * ef) / apart;
        }
      }
    }
    const to = steps + ((<usize>i) << 3);
    store<f64>(to, a);
    store<f64>(to + PLANE, b);
    store<f64>(to + 2 * PLANE, c);
    store<f64>(to + 3 * PLANE, d);
    store<f64>(to + 4 * PLANE, trail);
  }
}

/**
 * One lane on springs: places and speeds after a step in which targets move evenly from `was` to `target`.
 * @param steps as springSteps writes them
 */
export function sprung(
  n: i32, place: usize, speed: usize, now: usize, rate: usize, was: usize, target: usize, steps: usize, seconds: f64,
): void {
  const t = f64x2.splat(seconds);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const nows = v128.load(now + i);
    const rates = v128.load(rate + i);
    const from = v128.load(was + i);
    const to = v128.load(target + i);
    const at = steps + (i << 1);
    const low = halfSprung(lowOf(nows), lowOf(rates), lowOf(from), lowOf(to), at, t);
    const lowSpeed = otherHalf;
    const high = halfSprung(highOf(nows), highOf(rates), highOf(from), highOf(to), at + 16, t);
    v128.store(place + i, joined(low, high));
    v128.store(speed + i, joined(lowSpeed, otherHalf));
  }
}

/** The second result of halfSprung and halfLagged. */
let otherHalf: v128 = i64x2(0, 0);

@inline
function halfSprung(now: v128, speed: v128, was: v128, target: v128, at: usize, t: v128): v128 {
  const rate = f64x2.div(f64x2.sub(target, was), t);
  const behind = f64x2.mul(v128.load(at + 4 * PLANE), rate);
  const offset = f64x2.add(f64x2.sub(now, was), behind);
  const excess = f64x2.sub(speed, rate);
  otherHalf = f64x2.add(
    f64x2.add(rate, f64x2.mul(v128.load(at + 2 * PLANE), offset)),
    f64x2.mul(v128.load(at + 3 * PLANE), excess),
  );
  return f64x2.add(
    f64x2.add(f64x2.sub(target, behind), f64x2.mul(v128.load(at), offset)),
    f64x2.mul(v128.load(at + PLANE), excess),
  );
}

/**
 * What a step leaves of each element's way, and what it trails behind by at a speed of 1: two planes of float64.
 * @param half seconds of a half-life; 0 and less follow at once
 */
export function lagSteps(n: i32, steps: usize, half: usize, t: f64): void {
  let known: f32 = NaN;
  let left: f64 = 0;
  for (let i = 0; i < n; i++) {
    const h = load<f32>(half + ((<usize>i) << 2));
    if (h != known) {
      known = h;
      left = h > 0 ? Math.exp((-Math.LN2 * t) / <f64>h) : 0;
    }
    const to = steps + ((<usize>i) << 3);
    store<f64>(to, left);
    store<f64>(to + PLANE, Math.max(0, <f64>h));
  }
}

/** One lane that lags, likewise; speeds are those of the step. */
export function lagged(
  n: i32, place: usize, speed: usize, now: usize, was: usize, target: usize, steps: usize, seconds: f64,
): void {
  const t = f64x2.splat(seconds);
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const nows = v128.load(now + i);
    const from = v128.load(was + i);
    const to = v128.load(target + i);
    const at = steps + (i << 1);
    const low = halfLagged(lowOf(nows), lowOf(from), lowOf(to), at, t);
    const high = halfLagged(highOf(nows), highOf(from), highOf(to), at + 16, t);
    const places = joined(low, high);
    v128.store(place + i, places);
    const lowSpeed = f64x2.div(f64x2.sub(lowOf(places), lowOf(nows)), t);
    const highSpeed = f64x2.div(f64x2.sub(highOf(places), highOf(nows)), t);
    v128.store(speed + i, joined(lowSpeed, highSpeed));
  }
}

@inline
function halfLagged(now: v128, was: v128, target: v128, at: usize, t: v128): v128 {
  const behind = f64x2.div(
    f64x2.mul(f64x2.div(f64x2.sub(target, was), t), v128.load(at + PLANE)),
    f64x2.splat(Math.LN2),
  );
  const offset = f64x2.add(f64x2.sub(now, was), behind);
  return f64x2.add(f64x2.sub(target, behind), f64x2.mul(v128.load(at), offset));
}

@inline
function lowOf(four: v128): v128 {
  return f64x2.promote_low_f32x4(four);
}

@inline
function highOf(four: v128): v128 {
  return f64x2.promote_low_f32x4(i32x4.shuffle(four, four, 2, 3, 2, 3));
}

/** Two pairs of float64 as four float32. */
@inline
function joined(low: v128, high: v128): v128 {
  return i32x4.shuffle(f32x4.demote_f64x2_zero(low), f32x4.demote_f64x2_zero(high), 0, 1, 4, 5);
}

/** Turns rotations to the side of those before them: a turn and its opposite are one. Returns how many were turned. */
export function alignRotations(
  n: i32, ox: usize, oy: usize, oz: usize, ow: usize,
  wasX: usize, wasY: usize, wasZ: usize, wasW: usize, x: usize, y: usize, z: usize, w: usize,
): i32 {
  let turned = 0;
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    const qx = load<f32>(x + i);
    const qy = load<f32>(y + i);
    const qz = load<f32>(z + i);
    const qw = load<f32>(w + i);
    const dot =
      <f64>load<f32>(wasX + i) * qx + <f64>load<f32>(wasY + i) * qy +
      <f64>load<f32>(wasZ + i) * qz + <f64>load<f32>(wasW + i) * qw;
    const sign: f32 = dot < 0 ? -1 : 1;
    if (dot < 0) turned++;
    store<f32>(ox + i, qx * sign);
    store<f32>(oy + i, qy * sign);
    store<f32>(oz + i, qz * sign);
    store<f32>(ow + i, qw * sign);
  }
  return turned;
}

/** On the way from one lane to another by a share of each element; what goes all the way is there exactly. */
export function partWay(n: i32, out: usize, from: usize, to: usize, share: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    const part = load<f32>(share + i);
    const there = load<f32>(to + i);
    const start = <f64>load<f32>(from + i);
    store<f32>(out + i, part == 1 ? there : <f32>(start + (<f64>there - start) * part));
  }
}

/** Rotations of length 1, by float64; those of no length stay. */
export function unitRotations(
  n: i32, ox: usize, oy: usize, oz: usize, ow: usize, qx: usize, qy: usize, qz: usize, qw: usize,
): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    const x = <f64>load<f32>(qx + i);
    const y = <f64>load<f32>(qy + i);
    const z = <f64>load<f32>(qz + i);
    const w = <f64>load<f32>(qw + i);
    const length = Math.sqrt(x * x + y * y + z * z + w * w);
    const size = length == 0 ? 1 : length;
    store<f32>(ox + i, <f32>(x / size));
    store<f32>(oy + i, <f32>(y / size));
    store<f32>(oz + i, <f32>(z / size));
    store<f32>(ow + i, <f32>(w / size));
  }
}
