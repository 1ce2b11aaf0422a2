/** Axis-aligned bounds, in units. */
import { interleaved } from "../kernels/blocks";
import type { Domain } from "./column";
import { lanesOf, type Shape } from "./shape";

export interface Bounds {
  readonly min: readonly [number, number, number];
  readonly max: readonly [number, number, number];
}

/** Bounds of a domain's positions; null when it has none. */
export function domainBounds(domain: Domain | undefined): Bounds | null {
  const lanes = domain?.columns.position?.lanes;
  if (!lanes || !domain || domain.count === 0) return null;
  const ranges = lanes.map((lane) => {
    let min = Number.POSITIVE_INFINITY;
    let max = Number.NEGATIVE_INFINITY;
    for (let i = 0; i < lane.length; i++) {
      const v = lane[i];
      if (v < min) min = v;
      if (v > max) max = v;
    }
    return [min, max];
  });
  return {
    min: [ranges[0][0], ranges[1][0], ranges[2][0]],
    max: [ranges[0][1], ranges[1][1], ranges[2][1]],
  };
}

/** Smallest bounds around several; null when all are null. */
export function joinBounds(list: readonly (Bounds | null)[]): Bounds | null {
  const present = list.filter((b) => b !== null);
  if (present.length === 0) return null;
  const pick = (f: (...n: number[]) => number, side: "min" | "max", axis: number) =>
    f(...present.map((b) => b[side][axis]));
  return {
    min: [pick(Math.min, "min", 0), pick(Math.min, "min", 1), pick(Math.min, "min", 2)],
    max: [pick(Math.max, "max", 0), pick(Math.max, "max", 1), pick(Math.max, "max", 2)],
  };
}

/** Matrices (16 numbers each, column-major) of a domain of sites. */
export function siteMatrices(sites: Domain): Float32Array {
  const rotation = lanesOf(sites, "rotation", "rotation").lanes ?? [0, 0, 0, 1];
  const scale = lanesOf(sites, "scale", "vector").lanes ?? [1, 1, 1];
  const lanes = [...sites.columns.position.lanes, ...rotation, ...scale];
  return interleaved("composeMatrices", lanes, sites.count, 16);
}

/**
 * Bounds of copies of something with bounds of its own, placed by `matrices` (16 numbers each). Each world axis
 * takes, per copy, the middle plus or minus the sum of the absolute half extents: exact for the turned box,
 * without visiting its corners. `of` picks copies; all when missing.
 */
export function placedBounds(
  own: Bounds | null,
  matrices: Float32Array,
  of?: (copy: number) => boolean,
): Bounds | null {
  if (!own) return null;
  const half = [0, 1, 2].map((a) => (own.max[a] - own.min[a]) / 2);
  const middle = [0, 1, 2].map((a) => (own.max[a] + own.min[a]) / 2);
  const min: [number, number, number] = [Infinity, Infinity, Infinity];
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i * 16 < matrices.length; i++) {
    if (of && !of(i)) continue;
    for (let a = 0; a < 3; a++) {
      const k = i * 16 + a;
      const centre =
        matrices[k] * middle[0] +
        matrices[k + 4] * middle[1] +
        matrices[k + 8] * middle[2] +
        matrices[k + 12];
      const reach =
        Math.abs(matrices[k]) * half[0] +
        Math.abs(matrices[k + 4]) * half[1] +
        Math.abs(matrices[k + 8]) * half[2];
      if (centre - reach < min[a]) min[a] = centre - reach;
      if (centre + reach > max[a]) max[a] = centre + reach;
    }
  }
  return min[0] <= max[0] ? { min, max } : null;
}

/** Bounds of everything in a shape: mesh, curves, sites and what is cloned onto them. */
export function shapeBounds(shape: Shape): Bounds | null {
  const own = joinBounds([domainBounds(shape.mesh?.points), domainBounds(shape.curves?.points)]);
  const { sites, sources } = shape;
  if (!sites || sites.count === 0) return own;
  const source = sites.columns.source?.lanes[0];
  if (!source || !sources) return joinBounds([own, domainBounds(sites)]);
  const matrices = siteMatrices(sites);
  const bare = placedBounds(POINT, matrices, (i) => source[i] < 0);
  return joinBounds([
    own,
    bare,
    ...sources.map((s, k) => placedBounds(shapeBounds(s), matrices, (i) => source[i] === k)),
  ]);
}

/** Bounds of a place without extent. */
export const POINT: Bounds = { min: [0, 0, 0], max: [0, 0, 0] };
