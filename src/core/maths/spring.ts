/**
 * Springs and lags in closed form: exact for a target that moves evenly between two frames, so they are the same at any frame
 * rate and never run away. Derived from the linear equation x″ + 2ζω x′ + ω² (x − u) = 0, and x′ = k (u − x).
 */
import { cosine, exponential, sine } from "./exact";

/** How offset and speed, from a target that stands still, come out of those before: x₁ = a x₀ + b v₀, v₁ = c x₀ + d v₀. */
export interface SpringStep {
  readonly a: number;
  readonly b: number;
  readonly c: number;
  readonly d: number;
  /** How far it trails behind a target that moves evenly: units a unit of the target's speed. */
  readonly trail: number;
}

/** Of (turning × t)², below which cosine and sine ÷ turning are summed up as series: three terms leave less than 10⁻¹² of 1. */
const NEAR = 1e-2;

/**
 * @param omega natural frequency, radians a second: √(stiffness ÷ mass)
 * @param damping damping ratio ζ: below 1 it overshoots
 * @param t seconds
 */
export function springStep(omega: number, damping: number, t: number): SpringStep {
  if (!(omega > 0)) return { a: 1, b: t, c: 0, d: 1, trail: 0 };
  const trail = (2 * damping) / omega;
  // Half-way between turning and creeping the other forms divide by next to nothing; the series they have in common is exact.
  const square = omega * omega * (1 - damping * damping) * t * t;
  if (Math.abs(square) < NEAR) {
    const e = exponential(-damping * omega * t);
    const cos = 1 - (square / 2) * (1 - (square / 12) * (1 - square / 30));
    const sin = t * (1 - (square / 6) * (1 - (square / 20) * (1 - square / 42)));
    const share = damping * omega;
    return {
      a: e * (cos + share * sin),
      b: e * sin,
      c: -omega * omega * e * sin,
      d: e * (cos - share * sin),
      trail,
    };
  }
  if (damping < 1) {
    const turning = omega * Math.sqrt(1 - damping * damping);
    const e = exponential(-damping * omega * t);
    const [cos, sin] = [cosine(turning * t), sine(turning * t)];
    const share = (damping * omega) / turning;
    return {
      a: e * (cos + share * sin),
      b: (e * sin) / turning,
      c: (-e * omega * omega * sin) / turning,
      d: e * (cos - share * sin),
      trail,
    };
  }
  const root = omega * Math.sqrt(damping * damping - 1);
  const [slow, fast] = [-damping * omega + root, -damping * omega - root];
  const [es, ef] = [exponential(slow * t), exponential(fast * t)];
  const apart = slow - fast;
  return {
    a: (slow * ef - fast * es) / apart,
    b: (es - ef) / apart,
    c: (slow * fast * (ef - es)) / apart,
    d: (slow * es - fast * ef) / apart,
    trail,
  };
}

/**
 * Where something on a spring is after a step in which its target moves evenly.
 * @param now where it was @param speed how fast, a second @param was where the target was @param target where it is
 */
export function sprungPlace(
  { a, b, trail }: SpringStep,
  now: number,
  speed: number,
  was: number,
  target: number,
  seconds: number,
): number {
  const rate = (target - was) / seconds;
  return target - trail * rate + a * (now - was + trail * rate) + b * (speed - rate);
}

/** How fast it then is; likewise. */
export function sprungSpeed(
  { c, d, trail }: SpringStep,
  now: number,
  speed: number,
  was: number,
  target: number,
  seconds: number,
): number {
  const rate = (target - was) / seconds;
  return rate + c * (now - was + trail * rate) + d * (speed - rate);
}

/** By what part of a jump a spring shoots over it at first; 0 from damping 1 on. */
export const overshootOf = (damping: number): number =>
  damping < 1 ? exponential((-Math.PI * damping) / Math.sqrt(1 - damping * damping)) : 0;

/** What is left of the way to a target that stands still: half of it after `half` seconds. */
export const lagLeft = (half: number, t: number): number =>
  half > 0 ? exponential((-Math.LN2 * t) / half) : 0;

/** Where something that lags is after a step in which its target moves evenly; `left` is `lagLeft` of the step. */
export function laggedPlace(
  half: number,
  left: number,
  now: number,
  was: number,
  target: number,
  seconds: number,
): number {
  // Behind a target that moves evenly it trails by its speed ÷ k.
  const behind = (((target - was) / seconds) * Math.max(0, half)) / Math.LN2;
  return target - behind + left * (now - was + behind);
}
