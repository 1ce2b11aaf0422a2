/** Places moved with a lattice of control points: T. Sederberg and S. Parry, "Free-form deformation of solid geometric models", SIGGRAPH 1986. */
import { tick } from "../cancelling";

type Lanes = readonly ArrayLike<number>[];

/** A lattice along the axes as it was. */
export interface RestLattice {
  /** How many along x, y and z. */
  readonly counts: readonly [number, number, number];
  readonly min: readonly number[];
  readonly max: readonly number[];
  /** The number of the control point in row i, j, k, i running fastest. */
  readonly at: Int32Array;
}

/** Part of the whole by which places may be off a row and still stand in it. */
const NEAR = 1e-3;

/** Null when the places do not stand in rows along the axes, as many in each. */
export function restLattice(lanes: Lanes): RestLattice | null {
  const rows = lanes.map(valuesOf);
  const counts: RestLattice["counts"] = [rows[0].length, rows[1].length, rows[2].length];
  if (counts[0] * counts[1] * counts[2] !== lanes[0].length) return null;
  const at = new Int32Array(lanes[0].length).fill(-1);
  for (let p = 0; p < at.length; p++) {
    const [i, j, k] = lanes.map((lane, a) => nearestOf(rows[a], lane[p]));
    at[(k * counts[1] + j) * counts[0] + i] = p;
  }
  if (at.includes(-1)) return null;
  return { counts, min: rows.map((row) => row[0]), max: rows.map((row) => row[row.length - 1]), at };
}

/** The values of a lane, those that are nearly the same once, ascending. */
function valuesOf(lane: ArrayLike<number>): number[] {
  const sorted = Array.from(lane).sort((a, b) => a - b);
  const span = sorted[sorted.length - 1] - sorted[0];
  return sorted.filter((v, i) => i === 0 || v - sorted[i - 1] > span * NEAR);
}

const nearestOf = (row: readonly number[], value: number): number =>
  row.reduce((best, v, i) => (Math.abs(v - value) < Math.abs(row[best] - value) ? i : best), 0);

/**
 * Each place moved by how far the control points have gone, by Bernstein polynomials within the lattice; places outside follow its
 * nearest side.
 * @param before the control points as they were @param now as they are, in the same order
 */
export function movedByLattice(places: Lanes, rest: RestLattice, before: Lanes, now: Lanes): Float32Array[] {
  const { counts, at, min, max } = rest;
  const shifts = before.map((lane, a) => Float64Array.from(at, (p) => now[a][p] - lane[p]));
  const out = places.map((lane) => Float32Array.from(lane));
  const weights = counts.map((count) => new Float64Array(count));
  for (let p = 0; p < out[0].length; p++) {
    tick(at.length / 4);
    for (let a = 0; a < 3; a++) {
      const t = max[a] > min[a] ? (places[a][p] - min[a]) / (max[a] - min[a]) : 0;
      bernstein(Math.min(1, Math.max(0, t)), weights[a]);
    }
    let c = 0;
    for (let k = 0; k < counts[2]; k++)
      for (let j = 0; j < counts[1]; j++) {
        const across = weights[2][k] * weights[1][j];
        for (let i = 0; i < counts[0]; i++, c++) {
          const weight = across * weights[0][i];
          for (let a = 0; a < 3; a++) out[a][p] += shifts[a][c] * weight;
        }
      }
  }
  return out;
}

/** All polynomials of the degree that the array is long, less one, at t: they add up to 1. */
function bernstein(t: number, into: Float64Array): void {
  into.fill(0);
  into[0] = 1;
  for (let degree = 1; degree < into.length; degree++)
    for (let i = degree; i >= 0; i--) into[i] = (1 - t) * into[i] + (i > 0 ? t * into[i - 1] : 0);
}
