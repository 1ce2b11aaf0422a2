/** Where scattered sites may stand: places by their number, on the surface of a mesh or inside of it. */
import { domainBounds } from "../../geometry/bounds";
import { type Mesh, pointLanes } from "../../geometry/mesh";
import { triangleCorners } from "../../geometry/triangles";
import { lengthOf } from "../../maths/exact";
import { hash3, unit24 } from "../../maths/random";
import type { Vec3 } from "../../maths/vector";
import type { LazyInside } from "../../spatial/inside";

/** Numbers from 0 to 1 for a place: `channel` tells several of one place apart. */
export type Draw = (i: number, channel: number) => number;

export interface Place {
  readonly at: Vec3;
  /** Which way the surface looks there, unit; up inside of a volume. */
  readonly off: Vec3;
  /** Where that is on a picture, if the mesh is laid out for one. */
  readonly uv: readonly number[];
}

/** The place of a number; null when none was found for it. */
export type Places = (i: number) => Place | null;

/** Powers of the plastic ratio's sibling for three dimensions, the positive root of x⁴ = x + 1. */
const ROOT = 1.2207440846057596;
export const EVEN_STEPS = [1 / ROOT, 1 / (ROOT * ROOT), 1 / (ROOT * ROOT * ROOT)];

export const byChance =
  (seed: number): Draw =>
  (i, channel) =>
    unit24(hash3(seed, i, channel));

/**
 * An additive sequence that fills the unit cube evenly at any length (M. Roberts, "The unreasonable effectiveness
 * of quasirandom sequences", 2018; R₃), begun at a place that the seed decides. Channels past the third, which only
 * thinning asks for, are left to chance.
 */
export const evenly =
  (seed: number): Draw =>
  (i, channel) => {
    if (channel > 2) return unit24(hash3(seed, i, channel));
    const at = unit24(hash3(seed, 0, channel)) + (i + 1) * EVEN_STEPS[channel];
    return at - Math.floor(at);
  };

/** On the surface, by area and weight; null when there is nothing to stand on. */
export function surfacePlaces(mesh: Mesh, weights: Float32Array, draw: Draw): Places | null {
  const { xyz, corners, points, sums } = weighTriangles(mesh, weights);
  const laid = mesh.corners.columns.uv?.lanes ?? [];
  const total = sums[sums.length - 1] ?? 0;
  if (!(total > 0)) return null;
  const corner = (p: number): Vec3 => [xyz[0][p], xyz[1][p], xyz[2][p]];
  return (i) => {
    const t = firstAbove(sums, draw(i, 0) * total) * 3;
    const [a, b, c] = [points[t], points[t + 1], points[t + 2]];
    const share = placeInTriangle(weights[a], weights[b], weights[c], (channel) => draw(i, channel));
    const [pa, pb, pc] = [corner(a), corner(b), corner(c)];
    const u: Vec3 = [pb[0] - pa[0], pb[1] - pa[1], pb[2] - pa[2]];
    const v: Vec3 = [pc[0] - pa[0], pc[1] - pa[1], pc[2] - pa[2]];
    const n: Vec3 = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
    const length = lengthOf(...n) || 1;
    return {
      at: [0, 1, 2].map((k) => pa[k] * share[0] + pb[k] * share[1] + pc[k] * share[2]) as unknown as Vec3,
      off: [n[0] / length, n[1] / length, n[2] / length],
      uv: laid.map(
        (lane) =>
          lane[corners[t]] * share[0] + lane[corners[t + 1]] * share[1] + lane[corners[t + 2]] * share[2],
      ),
    };
  };
}

/** Tries for one place inside; a shape that fills a hundredth of its bounds needs about seven hundred to be sure of one. */
const TRIES_INSIDE = 1000;
/** Which way sites inside of a volume look. */
export const UP: Vec3 = [0, 1, 0];

/** Inside of a closed mesh, evenly over its volume. */
export function insidePlaces(mesh: Mesh, inside: LazyInside, draw: Draw): Places | null {
  const bounds = domainBounds(mesh.points);
  if (!bounds || mesh.faces.count === 0) return null;
  const { min, max } = bounds;
  return (i) => {
    for (let t = 0; t < TRIES_INSIDE; t++) {
      // Every try is a number of its own, so that places stay when more are asked for.
      const at = [0, 1, 2].map(
        (a) => min[a] + (max[a] - min[a]) * draw(i + t * STRIDE, a),
      ) as unknown as Vec3;
      if (inside.contains(...at)) return { at, off: UP, uv: [] };
    }
    return null;
  };
}

/** Between the tries of one place: a prime beyond the most sites. */
const STRIDE = 7_368_787;

/** Triangles' points (three each) and the running sums of area × mean weight. */
function weighTriangles(mesh: Mesh, weights: Float32Array) {
  const xyz = pointLanes(mesh);
  const corners = triangleCorners(mesh);
  const points = corners.map((corner) => mesh.cornerPoint[corner]);
  const sums = new Float64Array(points.length / 3);
  let sum = 0;
  for (let t = 0; t < sums.length; t++) {
    const [a, b, c] = [points[t * 3], points[t * 3 + 1], points[t * 3 + 2]];
    const [ux, uy, uz] = xyz.map((lane) => lane[b] - lane[a]);
    const [vx, vy, vz] = xyz.map((lane) => lane[c] - lane[a]);
    const area = lengthOf(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
    sum += (area * Math.max(0, weights[a] + weights[b] + weights[c])) / 3;
    sums[t] = sum;
  }
  return { xyz, corners, points, sums };
}

/** The first index whose running sum is above `value`. */
function firstAbove(sums: Float64Array, value: number): number {
  let low = 0;
  let high = sums.length - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sums[middle] > value) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** Tries at most before a draw is taken as it is; only weights that change steeply within a triangle need many. */
const TRIES = 32;

/**
 * Barycentric place, even over the triangle (Osada et al., 2002, eq. 1) and then thinned by the weight that
 * changes across it.
 */
function placeInTriangle(wa: number, wb: number, wc: number, draw: (channel: number) => number): Vec3 {
  const most = Math.max(wa, wb, wc);
  let place: Vec3 = [1, 0, 0];
  for (let k = 0; k < TRIES; k++) {
    const root = Math.sqrt(draw(1 + k * 3));
    const v = draw(2 + k * 3);
    place = [1 - root, root * (1 - v), root * v];
    if (draw(3 + k * 3) * most <= place[0] * wa + place[1] * wb + place[2] * wc) break;
  }
  return place;
}
