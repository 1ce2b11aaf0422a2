/** Places moved with a lattice of control points: T. Sederberg and S. Parry, "Free-form deformation of solid geometric models", SIGGRAPH 1986. */
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
 * As kernels read it: how many rows along x, y and z, where they begin, one over how long they are; then how far each control point has gone
 * along x, of all, along y, along z, in the order of `at`. Places within go by Bernstein polynomials of that, those outside with the nearest side.
 * @param before the control points as they were @param now as they are, in the same order
 */
export function latticeTable({ counts, at, min, max }: RestLattice, before: Lanes, now: Lanes): Float32Array {
  const per = max.map((high, a) => (high > min[a] ? 1 / (high - min[a]) : 0));
  const ways = before.flatMap((lane, a) => Array.from(at, (p) => now[a][p] - lane[p]));
  return Float32Array.from([...counts, ...min, ...per, ...ways]);
}
