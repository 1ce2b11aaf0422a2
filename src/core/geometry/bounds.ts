/** Axis-aligned bounds, in units. */
import { type Extent, interleave, placeBoxes, placedBox } from "../kernels/placing";
import type { LaneOrNumber } from "../kernels/plan";
import { rangeOf } from "../kernels/statistics";
import type { Domain, Lane } from "./column";
import { lanesOf, type Shape } from "./shape";
import { volumeBounds } from "./volume";

export interface Bounds {
  readonly min: readonly [number, number, number];
  readonly max: readonly [number, number, number];
}

const RANGES = new WeakMap<Lane, { readonly min: number; readonly max: number }>();

/** Lanes of a domain are never written again, so what stays along one axis is looked through once. */
function knownRange(lane: Lane): { readonly min: number; readonly max: number } {
  const known = RANGES.get(lane) ?? rangeOf(lane) ?? { min: 0, max: 0 };
  RANGES.set(lane, known);
  return known;
}

/** Bounds of a domain's positions; null when it has none. */
export function domainBounds(domain: Domain | undefined): Bounds | null {
  const lanes = domain?.columns.position?.lanes;
  if (!lanes || !domain || domain.count === 0) return null;
  const ranges = lanes.map(knownRange);
  return {
    min: [ranges[0].min, ranges[1].min, ranges[2].min],
    max: [ranges[0].max, ranges[1].max, ranges[2].max],
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

/** Position, rotation and scale of sites, planar, as kernels take them. */
function placementOf(sites: Domain): LaneOrNumber[] {
  const rotation = lanesOf(sites, "rotation", "rotation").lanes ?? [0, 0, 0, 1];
  const scale = lanesOf(sites, "scale", "vector").lanes ?? [1, 1, 1];
  return [...sites.columns.position.lanes, ...rotation, ...scale];
}

/** Matrices (16 numbers each, column-major) of a domain of sites, written into an array of sites.count × 16. */
export const siteMatrices = <T extends Float32Array>(sites: Domain, into: T): T =>
  interleave("composeMatrices", placementOf(sites), 16, into);

/** The same, with the bounds of copies of something that has bounds of its own. */
export function siteMatricesAndBounds(sites: Domain, into: Float32Array, own: Bounds | null): Bounds | null {
  if (own && sites.count > 0) return placeBoxes(placementOf(sites), into, extentOf(own));
  siteMatrices(sites, into);
  return null;
}

export const extentOf = (box: Bounds): Extent => ({
  middle: [0, 1, 2].map((a) => (box.max[a] + box.min[a]) / 2),
  half: [0, 1, 2].map((a) => (box.max[a] - box.min[a]) / 2),
});

/**
 * Bounds of copies of something with bounds of its own, placed by `matrices` (16 numbers each): exact for the turned
 * box, without visiting its corners.
 */
export const placedBounds = (own: Bounds | null, matrices: Float32Array): Bounds | null =>
  own && matrices.length > 0 ? placedBox(matrices, extentOf(own)) : null;

/** Bounds of everything in a shape: mesh, curves, sites and what is cloned onto them. */
export function shapeBounds(shape: Shape): Bounds | null {
  const { volume } = shape;
  const own = joinBounds([
    domainBounds(shape.mesh?.points),
    domainBounds(shape.curves?.points),
    volume ? volumeBounds(volume) : null,
  ]);
  const { sites, sources } = shape;
  if (!sites || sites.count === 0) return own;
  const source = sites.columns.source?.lanes[0];
  if (!source || !sources) return joinBounds([own, domainBounds(sites)]);
  const matrices = siteMatrices(sites, new Float32Array(sites.count * 16));
  const at = (k: number): Float32Array => {
    const picked = new Float32Array(matrices.length);
    let count = 0;
    for (let i = 0; i < source.length; i++)
      if (source[i] === k) picked.set(matrices.subarray(i * 16, i * 16 + 16), 16 * count++);
    return picked.subarray(0, count * 16);
  };
  return joinBounds([
    own,
    placedBounds(POINT, at(-1)),
    ...sources.map((s, k) => placedBounds(shapeBounds(s), at(k))),
  ]);
}

/** How far a shape reaches along one axis: what only has places is looked through along that axis alone. */
export function reachAlong(shape: Shape, axis: 0 | 1 | 2): readonly [number, number] | null {
  const { mesh, curves, sites, sources, volume } = shape;
  if (volume || (sources && sites?.columns.source)) {
    const bounds = shapeBounds(shape);
    return bounds && [bounds.min[axis], bounds.max[axis]];
  }
  const ranges = [mesh?.points, curves?.points, sites]
    .filter((domain) => domain !== undefined && domain.count > 0)
    .flatMap((domain) => domain?.columns.position?.lanes[axis] ?? [])
    .map(knownRange);
  if (ranges.length === 0) return null;
  return [Math.min(...ranges.map(({ min }) => min)), Math.max(...ranges.map(({ max }) => max))];
}

/** Bounds of a place without extent. */
export const POINT: Bounds = { min: [0, 0, 0], max: [0, 0, 0] };
