/**
 * Polylines in offset form.
 *
 * - `points`: column `position` (vector), usually `along` (0…1 by length within its curve); optionally `radius`, by which what is
 *   put around the curve is thicker there (times), and `tilt`, by which it is turned about the curve (degrees), and
 *   `thickness` (thickness.ts). Where a curve is a Bézier, its points have handles (curves/beziers.ts).
 * - `curveStarts`: length curves.count + 1, ascending; curve k owns points curveStarts[k] … curveStarts[k+1]−1.
 * - `curves`: column `closed` (integer): 1 joins the last point to the first.
 */
import { addressOf, roomForFloats } from "../kernels/arena";
import { FIRST_ELEMENT, fixedAt, ownAt } from "../kernels/job";
import { engine, withScratch } from "../kernels/kernels";
import { Plan } from "../kernels/plan";
import { lengthOf } from "../maths/exact";
import { concatenate, type Domain, type Lane, makeColumn, withColumns } from "./column";

export interface Curves {
  readonly points: Domain;
  readonly curves: Domain;
  readonly curveStarts: Int32Array;
}

/** Vectors from a point to the ends of its handles: which way the curve comes and goes. */
export const HANDLES = ["handleBefore", "handleAfter"] as const;

export interface CurveParts {
  /** x, y, z lanes of the points. */
  readonly position: readonly [Float32Array, Float32Array, Float32Array];
  readonly curveStarts: Int32Array;
  /** One entry a curve; open when missing. */
  readonly closed?: Int32Array;
  /** Of the points, where it is known already. */
  readonly along?: Float32Array;
}

export function makeCurves({ position, curveStarts, closed, along }: CurveParts): Curves {
  const count = Math.max(0, curveStarts.length - 1);
  const curves: Curves = {
    points: { count: position[0].length, columns: { position: makeColumn("vector", position) } },
    curves: { count, columns: { closed: makeColumn("integer", [closed ?? new Int32Array(count)]) } },
    curveStarts,
  };
  return {
    ...curves,
    points: withColumns(curves.points, { along: makeColumn("number", [along ?? partOfLength(curves)]) }),
  };
}

/** One curve from a writer that gives each point's place. */
export function makeCurve(
  count: number,
  closed: boolean,
  place: (i: number) => readonly [number, number, number],
): Curves {
  const position: CurveParts["position"] = [
    new Float32Array(count),
    new Float32Array(count),
    new Float32Array(count),
  ];
  for (let i = 0; i < count; i++) {
    const p = place(i);
    for (let a = 0; a < 3; a++) position[a][i] = p[a];
  }
  return makeCurves({
    position,
    curveStarts: Int32Array.of(0, count),
    closed: Int32Array.of(closed ? 1 : 0),
  });
}

export const isClosedCurve = (curves: Curves, k: number): boolean =>
  (curves.curves.columns.closed?.lanes[0][k] ?? 0) !== 0;

/** Segments of all curves, as pairs of point numbers. */
export function segments(curves: Curves): Int32Array {
  const pairs: number[] = [];
  for (let k = 0; k < curves.curves.count; k++) {
    const first = curves.curveStarts[k];
    const end = curves.curveStarts[k + 1];
    for (let p = first; p + 1 < end; p++) pairs.push(p, p + 1);
    if (isClosedCurve(curves, k) && end - first > 2) pairs.push(end - 1, first);
  }
  return Int32Array.from(pairs);
}

/** Length of each curve, units. */
export function curveLengths(curves: Curves): Float64Array {
  const lengths = new Float64Array(curves.curves.count);
  for (let k = 0; k < lengths.length; k++) {
    const first = curves.curveStarts[k];
    const end = curves.curveStarts[k + 1];
    for (let p = first; p + 1 < end; p++) lengths[k] += distance(curves, p, p + 1);
    if (isClosedCurve(curves, k) && end - first > 2) lengths[k] += distance(curves, end - 1, first);
  }
  return lengths;
}

/** Unit direction of travel at every point: from the neighbour before to the one after, three lanes. */
export function curveTangents(curves: Curves): Float32Array[] {
  const [x, y, z] = curves.points.columns.position.lanes;
  const out = [0, 1, 2].map(() => new Float32Array(curves.points.count));
  const [tx, ty, tz] = out;
  for (let k = 0; k < curves.curves.count; k++) {
    const first = curves.curveStarts[k];
    const end = curves.curveStarts[k + 1];
    const closed = isClosedCurve(curves, k);
    for (let p = first; p < end; p++) {
      const before = p > first ? p - 1 : closed ? end - 1 : p;
      const after = p + 1 < end ? p + 1 : closed ? first : p;
      const [dx, dy, dz] = [x[after] - x[before], y[after] - y[before], z[after] - z[before]];
      const length = lengthOf(dx, dy, dz);
      if (!(length > 0)) continue;
      tx[p] = dx / length;
      ty[p] = dy / length;
      tz[p] = dz / length;
    }
  }
  return out;
}

export function mergeCurves(list: readonly Curves[]): Curves | undefined {
  if (list.length < 2) return list[0];
  const starts: number[] = [0];
  for (const { curveStarts } of list) {
    const base = starts[starts.length - 1];
    for (let k = 1; k < curveStarts.length; k++) starts.push(base + curveStarts[k]);
  }
  return {
    points: concatenate(list.map((c) => c.points)),
    curves: concatenate(list.map((c) => c.curves)),
    curveStarts: Int32Array.from(starts),
  };
}

const distance = (curves: Curves, p: number, q: number): number => {
  const [x, y, z] = curves.points.columns.position.lanes;
  return lengthOf(x[q] - x[p], y[q] - y[p], z[q] - z[p]);
};

/** Bytes in which kernels work that find `along`. */
export const ALONG_SPARE = 514 * 8;

/** Travelled part of the curve's length at each point; a closed curve reaches 1 only back at its start. */
function partOfLength({ points, curves, curveStarts }: Curves): Float32Array {
  const along = roomForFloats(points.count);
  withScratch((scratch) => {
    const placed = (lane: Lane) => addressOf(lane) ?? scratch.place(lane);
    const to = addressOf(along) ?? scratch.room(points.count * 4);
    const { closed } = curves.columns;
    const read = [curveStarts, ...closed.lanes, ...points.columns.position.lanes].map(placed);
    const plan = new Plan();
    const spare = plan.own(ALONG_SPARE);
    plan.calls.push({
      kernel: "partsOfCurves",
      operands: [FIRST_ELEMENT, ownAt(spare), ...[to, ...read].map(fixedAt)],
      numbers: [],
    });
    plan.run(curves.count, undefined, points.count / curves.count);
    if (addressOf(along) === null) along.set(engine().kernels.floats.subarray(to / 4, to / 4 + along.length));
  });
  return along;
}
