/** Axis-aligned bounds, in units. */
import { composeMatrix, multiplyMatrix } from "../maths/matrix";
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
  const matrices = new Float32Array(sites.count * 16);
  const [px, py, pz] = sites.columns.position.lanes;
  const rotation = lanesOf(sites, "rotation", "rotation").lanes;
  const scale = lanesOf(sites, "scale", "vector").lanes;
  for (let i = 0; i < sites.count; i++) {
    composeMatrix(
      matrices, i * 16,
      px[i], py[i], pz[i],
      rotation ? rotation[0][i] : 0, rotation ? rotation[1][i] : 0, rotation ? rotation[2][i] : 0, rotation ? rotation[3][i] : 1,
      scale ? scale[0][i] : 1, scale ? scale[1][i] : 1, scale ? scale[2][i] : 1,
    );
  }
  return matrices;
}

/** Bounds of everything in a shape: mesh, sites and what is cloned onto them (by the corners of their bounds). */
export function shapeBounds(shape: Shape): Bounds | null {
  const own = domainBounds(shape.mesh?.points);
  if (!shape.sites || shape.sites.count === 0) return own;
  const source = shape.sites.columns.source?.lanes[0];
  if (!source || !shape.sources) return joinBounds([own, domainBounds(shape.sites)]);
  const inner = shape.sources.map(shapeBounds);
  const matrices = siteMatrices(shape.sites);
  const min: [number, number, number] = [Infinity, Infinity, Infinity];
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  const corner = new Float32Array(16);
  const moved = new Float32Array(16);
  for (let i = 0; i < shape.sites.count; i++) {
    const b = source[i] >= 0 ? inner[source[i]] : null;
    for (let c = 0; c < 8; c++) {
      if (b) {
        corner[12] = c & 1 ? b.max[0] : b.min[0];
        corner[13] = c & 2 ? b.max[1] : b.min[1];
        corner[14] = c & 4 ? b.max[2] : b.min[2];
      }
      corner[15] = 1;
      multiplyMatrix(moved, 0, matrices, i * 16, corner, 0);
      for (let a = 0; a < 3; a++) {
        if (moved[12 + a] < min[a]) min[a] = moved[12 + a];
        if (moved[12 + a] > max[a]) max[a] = moved[12 + a];
      }
      if (!b) break;
    }
  }
  return joinBounds([own, { min, max }]);
}
