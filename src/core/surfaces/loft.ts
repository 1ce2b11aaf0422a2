/** A surface spanned from outline to outline. */

import { tick } from "../cancelling";
import { AlongCurves } from "../curves/along-curves";
import { evenSamples } from "../curves/even-samples";
import { partsOfLength } from "../curves/parts-of-length";
import { sampledCurves } from "../curves/sampled-curves";
import type { Domain } from "../geometry/column";
import { type Curves, isClosedCurve } from "../geometry/curves";
import { areaVector, type Mesh, makeMesh } from "../geometry/mesh";
import { type Mixture, MixtureWriter, mixed } from "../geometry/mixture";
import { lengthOf } from "../maths/exact";
import { between as betweenFacings, IDENTITY, rotate } from "../maths/quaternion";
import { dot, normalise, type Vec3 } from "../maths/vector";
import { FacesOfRows } from "./rows";
import { onPath } from "./without-path";

export interface Loft {
  /** Points of each outline; 0 for as many as the one that has most. */
  readonly points: number;
  /** Rows of faces between two outlines. */
  readonly rows: number;
  /** Through the outlines in a curve (E. Catmull and R. Rom, 1974), or straight from one to the next. */
  readonly smooth: boolean;
  /** Whether the last is joined to the first. */
  readonly round: boolean;
  readonly caps: boolean;
}

export interface Lofted {
  readonly mesh: Mesh;
  /** Points of each outline before and after. */
  readonly before: readonly number[];
  readonly after: number;
  /** Whether some are open and some closed: all are then taken to be open. */
  readonly isMixed: boolean;
}

/** Null with fewer than two outlines of two points. */
export function loft(curves: Curves, { points, rows, smooth, round, caps }: Loft): Lofted | null {
  const size = (k: number) => curves.curveStarts[k + 1] - curves.curveStarts[k];
  const kept = Array.from({ length: curves.curves.count }, (_, k) => k).filter((k) => size(k) > 1);
  if (kept.length < 2) return null;
  const closedOnes = kept.filter((k) => isClosedCurve(curves, k) && size(k) > 2);
  const closed = closedOnes.length === kept.length;
  const before = kept.map(size);
  const count = Math.max(closed ? 3 : 2, points > 0 ? points : Math.max(...before));
  const along = new AlongCurves(curves);
  const even = sampledCurves(
    curves,
    kept.map((k) => ({ of: k, closed, samples: evenSamples(curves, along, k, count).slice(0, count) })),
  );
  const order = matched(even, count, closed);
  const joined = round && kept.length > 2;
  const places = between(order, rows, smooth, joined);
  const made = mixed(onPath(even.points), places);
  const total = (places.starts.length - 1) / count;
  const faces = new FacesOfRows();
  const at = (i: number, j: number) => i * count + j;
  const u = shares(made, total, count, joined);
  const v = Float64Array.from(
    { length: closed ? count + 1 : count },
    (_, j) => j / (closed ? count : count - 1),
  );
  faces.add({ rows: total, size: count, around: closed, along: joined, u, v, at });
  if (closed && caps && !joined) faces.lids({ rows: total, size: count, v, at });
  const { position, ...columns } = made.columns;
  const mesh = makeMesh({
    position: position.lanes as [Float32Array, Float32Array, Float32Array],
    ...faces.parts,
    pointColumns: columns,
  });
  return { mesh, before, after: count, isMixed: closedOnes.length > 0 && !closed };
}

/**
 * The numbers of each outline's points in the order in which they are joined: turned round and begun where they come nearest to those
 * of the outline before, so that nothing twists; all of them so that faces look outwards.
 */
function matched({ points, curves, curveStarts }: Curves, count: number, closed: boolean): Int32Array[] {
  const lanes = points.columns.position.lanes;
  const rows: Int32Array[] = Array.from({ length: curves.count }, (_, k) =>
    Int32Array.from({ length: count }, (_, j) => curveStarts[k] + j),
  );
  for (let k = 1; k < rows.length; k++) {
    const choices = closed
      ? [turnedLike(rows[k - 1], rows[k], lanes)]
      : [rows[k], Int32Array.from(rows[k]).reverse()];
    rows[k] = nearestStart(rows[k - 1], choices, lanes, closed);
  }
  return closed && outwards(rows, lanes) < 0 ? rows.map((row) => row.slice().reverse()) : rows;
}

type Lanes = readonly ArrayLike<number>[];

const ORIGIN: Vec3 = [0, 0, 0];

const middleOf = (row: Int32Array, lanes: Lanes): Vec3 =>
  lanes.map((lane) => row.reduce((sum, p) => sum + lane[p], 0) / row.length) as unknown as Vec3;

const facingOf = (row: Int32Array, lanes: Lanes): Vec3 => normalise(areaVector(row, 0, row.length, lanes));

/** From here on outlines face the way from one to the other and not across it. */
const ALONG = 0.05;

/**
 * The row in the direction in which another one goes round: as seen along the way from one to the other, so that outlines that stand
 * around a bend do as well; beside each other in a plane, as they face.
 */
function turnedLike(before: Int32Array, row: Int32Array, lanes: Lanes): Int32Array {
  const [a, b] = [middleOf(before, lanes), middleOf(row, lanes)];
  const way = normalise([b[0] - a[0], b[1] - a[1], b[2] - a[2]]);
  const [from, to] = [facingOf(before, lanes), facingOf(row, lanes)];
  const [ahead, behind] = [dot(from, way), dot(to, way)];
  const seen = Math.abs(ahead) > ALONG && Math.abs(behind) > ALONG ? ahead * behind : dot(from, to);
  return seen >= 0 ? row : row.slice().reverse();
}

/** More than 0 when rows go counter-clockwise about the way from each to the next. */
function outwards(rows: readonly Int32Array[], lanes: Lanes): number {
  let sum = 0;
  for (let k = 1; k < rows.length; k++) {
    const [a, b] = [middleOf(rows[k - 1], lanes), middleOf(rows[k], lanes)];
    const way: Vec3 = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
    for (const row of [rows[k - 1], rows[k]]) sum += dot(areaVector(row, 0, row.length, lanes), way);
  }
  return sum;
}

/** Points that are compared at most: more would only cost. */
const COMPARED = 64;

/**
 * The choice, begun at another point where it is closed, whose points are nearest to those of the row before; closed ones both about
 * their middles and facing one way.
 */
function nearestStart(
  before: Int32Array,
  choices: readonly Int32Array[],
  lanes: Lanes,
  closed: boolean,
): Int32Array {
  const count = before.length;
  const [a, b] = closed ? [middleOf(before, lanes), middleOf(choices[0], lanes)] : [ORIGIN, ORIGIN];
  const turn = closed ? betweenFacings(facingOf(choices[0], lanes), facingOf(before, lanes)) : IDENTITY;
  const placed = (p: number, from: Vec3): Vec3 => [
    lanes[0][p] - from[0],
    lanes[1][p] - from[1],
    lanes[2][p] - from[2],
  ];
  const wanted = Array.from(before, (p) => placed(p, a));
  const step = Math.max(1, Math.floor(count / COMPARED));
  let best = { row: choices[0], start: 0, sum: Number.POSITIVE_INFINITY };
  for (const row of choices) {
    const there = Array.from(row, (p) => rotate(turn, placed(p, b)));
    for (let start = 0; start < (closed ? count : 1); start++) {
      let sum = 0;
      tick(count / step);
      for (let j = 0; j < count; j += step) {
        const [p, q] = [wanted[j], there[(j + start) % count]];
        for (let l = 0; l < 3; l++) sum += (q[l] - p[l]) ** 2;
      }
      // Of starts that are as good the first one stays.
      if (sum < best.sum * (1 - 1e-9)) best = { row, start, sum };
    }
  }
  const { row, start } = best;
  return row.map((_, j) => row[(j + start) % count]);
}

/** Outlines and the rows between them. */
function between(order: readonly Int32Array[], rows: number, smooth: boolean, round: boolean): Mixture {
  const spans = round ? order.length : order.length - 1;
  const count = order[0].length;
  const writer = new MixtureWriter((spans * rows + (round ? 0 : 1)) * count);
  const row = (k: number) =>
    round ? order[(k + order.length) % order.length] : order[Math.min(order.length - 1, Math.max(0, k))];
  for (let k = 0; k < spans; k++)
    for (let r = 0; r < rows; r++) {
      const weights = smooth ? catmullRom(r / rows) : [0, 1 - r / rows, r / rows, 0];
      for (let j = 0; j < count; j++) {
        for (const [i, weight] of weights.entries()) if (weight !== 0) writer.add(row(k - 1 + i)[j], weight);
        writer.next();
      }
    }
  if (!round) for (const p of order[order.length - 1]) writer.same(p);
  return writer.done();
}

/** Weights of four points in a row between the second and the third. */
const catmullRom = (t: number): number[] => [
  (-t + 2 * t * t - t * t * t) / 2,
  (2 - 5 * t * t + 3 * t * t * t) / 2,
  (t + 4 * t * t - 3 * t * t * t) / 2,
  (-t * t + t * t * t) / 2,
];

/** How far along each row is by the way of the rows' middles, 0 … 1, once more at the end when they go round. */
function shares({ columns }: Domain, rows: number, count: number, round: boolean): Float64Array {
  const lanes = columns.position.lanes;
  const middles = Array.from({ length: rows }, (_, i) =>
    middleOf(
      Int32Array.from({ length: count }, (_, j) => i * count + j),
      lanes,
    ),
  );
  return partsOfLength(rows, round, (i, j) => {
    const [a, b] = [middles[i], middles[j]];
    return lengthOf(b[0] - a[0], b[1] - a[1], b[2] - a[2]);
  });
}
