/** Where scattered sites may stand: places by their number, on the surface of a mesh or inside of it. */
import { type Bounds, domainBounds } from "../../../geometry/bounds";
import type { Mesh } from "../../../geometry/mesh";
import { hash3, unit24 } from "../../../maths/random";
import type { LazyInside } from "../../../spatial/inside";
import type { PlaceList } from "./place-list";
import type { WeightedSurface } from "./weighted-surface";

/** Numbers from 0 to 1 for a place: `channel` tells several of one place apart. */
export type Draw = (i: number, channel: number) => number;

/** Writes the place of a number after the last one of a list; false when none was found for it. */
export type Throw = (i: number, list: PlaceList) => boolean;

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

/** On the surface, by area and weight. */
export function surfacePlaces(surface: WeightedSurface, draw: Draw): Throw {
  const { sums, points, weights, whole } = surface;
  return (i, list) => {
    const t = firstAbove(sums, draw(i, 0) * whole);
    placeInTriangle(weights[points[t * 3]], weights[points[t * 3 + 1]], weights[points[t * 3 + 2]], draw, i);
    surface.put(list, t, share[0], share[1], share[2]);
    return true;
  };
}

/** Tries for one place inside; a shape that fills a hundredth of its bounds needs about seven hundred to be sure of one. */
const TRIES_INSIDE = 1000;
/** Inside of a closed mesh, evenly over its volume; null for one without faces. */
export function insidePlaces(mesh: Mesh, inside: LazyInside, draw: Draw): Throw | null {
  const bounds = domainBounds(mesh.points);
  return bounds && mesh.faces.count > 0
    ? placesWithin(bounds, (x, y, z) => inside.contains(x, y, z), draw)
    : null;
}

/** In a box, where something says that a place counts. @param counts may be asked of one place several times; n tells tries apart */
export function placesWithin(
  { min, max }: Bounds,
  counts: (x: number, y: number, z: number, n: number) => boolean,
  draw: Draw,
): Throw {
  return (i, list) => {
    for (let t = 0; t < TRIES_INSIDE; t++) {
      // Every try is a number of its own, so that places stay when more are asked for.
      const n = i + t * STRIDE;
      const x = min[0] + (max[0] - min[0]) * draw(n, 0);
      const y = min[1] + (max[1] - min[1]) * draw(n, 1);
      const z = min[2] + (max[2] - min[2]) * draw(n, 2);
      if (!counts(x, y, z, n)) continue;
      list.put(x, y, z, 0, 1, 0);
      return true;
    }
    return false;
  };
}

/** Between the tries of one place: a prime beyond the most sites. */
const STRIDE = 7_368_787;

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

/** How much each corner counts at the place that was found last. */
const share = new Float64Array(3);

/**
 * Barycentric place into `share`, even over the triangle (Osada et al., 2002, eq. 1) and then thinned by the weight that
 * changes across it.
 */
function placeInTriangle(wa: number, wb: number, wc: number, draw: Draw, i: number): void {
  const most = Math.max(wa, wb, wc);
  for (let k = 0; k < TRIES; k++) {
    const root = Math.sqrt(draw(i, 1 + k * 3));
    const v = draw(i, 2 + k * 3);
    share[0] = 1 - root;
    share[1] = root * (1 - v);
    share[2] = root * v;
    if (draw(i, 3 + k * 3) * most <= share[0] * wa + share[1] * wb + share[2] * wc) return;
  }
}
