/**
 * A part of a surface laid flat so that angles stay as nearly as can be: B. Lévy, S. Petitjean, N. Ray and J. Maillot, "Least squares
 * conformal maps for automatic texture atlas generation", SIGGRAPH 2002; solved by conjugate gradients (M. Hestenes and E. Stiefel,
 * 1952).
 */
import { tick } from "../../cancelling";
import { lengthOf } from "../../maths/exact";
import { anyAcross, cross, dot, minus, normalise, type Vec3 } from "../../maths/vector";

/** Triangles of a chart: three points each, numbered within it. */
export interface Chart {
  readonly places: readonly Vec3[];
  readonly triangles: Int32Array;
}

/** Part of the first residual at which it is good enough. */
const ENOUGH = 1e-4;
const MOST_ROUNDS = 3000;

/** x y of each point, counter-clockwise as the triangles are, as large as the chart is. */
export function flattened(chart: Chart): Float64Array {
  const start = projected(chart);
  if (chart.places.length <= 3) return start;
  const rows = rowsOf(chart);
  const flat = solved(rows, start, pinsOf(start));
  return scaledTo(chart, flat);
}

/** As it is seen from the front: where the search begins, and all there is of a single triangle. */
function projected({ places, triangles }: Chart): Float64Array {
  const sum: [number, number, number] = [0, 0, 0];
  for (let t = 0; t < triangles.length; t += 3) {
    const area = areaVectorOf(places, triangles, t);
    for (let a = 0; a < 3; a++) sum[a] += area[a];
  }
  const normal = normalise(sum);
  const right = anyAcross(dot(normal, normal) > 0 ? normal : [0, 0, 1]);
  const up = cross(dot(normal, normal) > 0 ? normal : [0, 0, 1], right);
  const flat = new Float64Array(places.length * 2);
  for (const [p, place] of places.entries()) {
    flat[2 * p] = dot(place, right);
    flat[2 * p + 1] = dot(place, up);
  }
  return flat;
}

const areaVectorOf = (places: readonly Vec3[], triangles: Int32Array, t: number): Vec3 =>
  cross(
    minus(places[triangles[t + 1]], places[triangles[t]]),
    minus(places[triangles[t + 2]], places[triangles[t]]),
  );

/** The two points that lie furthest apart from left to right or from bottom to top: they stay. */
function pinsOf(flat: Float64Array): readonly [number, number] {
  const ends = [0, 1].map((axis) => {
    let [low, high] = [0, 0];
    for (let p = 1; p < flat.length / 2; p++) {
      if (flat[2 * p + axis] < flat[2 * low + axis]) low = p;
      if (flat[2 * p + axis] > flat[2 * high + axis]) high = p;
    }
    return { low, high, far: flat[2 * high + axis] - flat[2 * low + axis] };
  });
  const { low, high } = ends[0].far >= ends[1].far ? ends[0] : ends[1];
  return [low, high];
}

/** For each triangle how its corners' x y would turn against each other: three weights, complex, over the root of its area. */
interface Rows {
  readonly triangles: Int32Array;
  /** Six a triangle: real and imaginary parts by corner. */
  readonly weights: Float64Array;
}

function rowsOf({ places, triangles }: Chart): Rows {
  const weights = new Float64Array(triangles.length * 2);
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => places[triangles[t + k]]);
    const area = areaVectorOf(places, triangles, t);
    const size = lengthOf(...area);
    if (size === 0) continue;
    // The triangle in its own plane: a at 0 0, b on the x axis.
    const x = normalise(minus(b, a));
    const y = cross(normalise(area), x);
    const [bx, cx, cy] = [dot(minus(b, a), x), dot(minus(c, a), x), dot(minus(c, a), y)];
    const root = Math.sqrt(size);
    weights.set([(cx - bx) / root, cy / root, -cx / root, -cy / root, bx / root, 0], t * 2);
  }
  return { triangles, weights };
}

/** Residuals of all triangles: two each. */
function applied({ triangles, weights }: Rows, flat: Float64Array): Float64Array {
  const out = new Float64Array((triangles.length / 3) * 2);
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [re, im] = [weights[t * 2 + 2 * k], weights[t * 2 + 2 * k + 1]];
      const [u, v] = [flat[2 * triangles[t + k]], flat[2 * triangles[t + k] + 1]];
      out[(t / 3) * 2] += re * u - im * v;
      out[(t / 3) * 2 + 1] += im * u + re * v;
    }
  return out;
}

/** The same the other way: by points, 0 at those that stay. */
function backwards(
  { triangles, weights }: Rows,
  residuals: Float64Array,
  points: number,
  pins: readonly number[],
): Float64Array {
  const out = new Float64Array(points * 2);
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [re, im] = [weights[t * 2 + 2 * k], weights[t * 2 + 2 * k + 1]];
      const [r, s] = [residuals[(t / 3) * 2], residuals[(t / 3) * 2 + 1]];
      out[2 * triangles[t + k]] += re * r + im * s;
      out[2 * triangles[t + k] + 1] += -im * r + re * s;
    }
  for (const p of pins) {
    out[2 * p] = 0;
    out[2 * p + 1] = 0;
  }
  return out;
}

const dotted = (a: Float64Array, b: Float64Array): number => {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum;
};

/** 1 ÷ how much each number counts in all rows (C. Jacobi's preconditioning). */
function shares({ triangles, weights }: Rows, points: number): Float64Array {
  const sums = new Float64Array(points * 2);
  for (let k = 0; k < triangles.length; k++) {
    const [re, im] = [weights[2 * k], weights[2 * k + 1]];
    for (const part of [0, 1]) sums[2 * triangles[k] + part] += re * re + im * im;
  }
  return sums.map((sum) => (sum > 0 ? 1 / sum : 0));
}

/** Conjugate gradients on the normal equations, from a first guess. */
function solved(rows: Rows, start: Float64Array, pins: readonly number[]): Float64Array {
  const points = start.length / 2;
  const x = Float64Array.from(start);
  const residual = applied(rows, x).map((v) => -v);
  const share = shares(rows, points);
  let gradient = backwards(rows, residual, points, pins);
  const way = gradient.map((v, i) => v * share[i]);
  let now = dotted(gradient, way);
  const enough = now * ENOUGH * ENOUGH;
  for (let round = 0; round < MOST_ROUNDS && now > enough && now > 1e-24; round++) {
    tick(points);
    const ahead = applied(rows, way);
    const step = now / (dotted(ahead, ahead) || 1);
    for (let i = 0; i < x.length; i++) x[i] += step * way[i];
    for (let i = 0; i < residual.length; i++) residual[i] -= step * ahead[i];
    gradient = backwards(rows, residual, points, pins);
    let next = 0;
    for (let i = 0; i < way.length; i++) next += gradient[i] * gradient[i] * share[i];
    for (let i = 0; i < way.length; i++) way[i] = gradient[i] * share[i] + (next / now) * way[i];
    now = next;
  }
  return x;
}

/** With the area of the surface. */
function scaledTo({ places, triangles }: Chart, flat: Float64Array): Float64Array {
  let [wanted, has] = [0, 0];
  for (let t = 0; t < triangles.length; t += 3) {
    wanted += lengthOf(...areaVectorOf(places, triangles, t));
    const [a, b, c] = [0, 1, 2].map((k) => triangles[t + k]);
    has +=
      (flat[2 * b] - flat[2 * a]) * (flat[2 * c + 1] - flat[2 * a + 1]) -
      (flat[2 * b + 1] - flat[2 * a + 1]) * (flat[2 * c] - flat[2 * a]);
  }
  const times = has !== 0 ? Math.sqrt(wanted / Math.abs(has)) : 1;
  return flat.map((v) => v * times);
}
