/** Curves turned about an axis. */

import { tick } from "../cancelling";
import { partsOfLength } from "../curves/parts-of-length";
import { gather } from "../geometry/column";
import { type Curves, isClosedCurve } from "../geometry/curves";
import { type Mesh, makeMesh } from "../geometry/mesh";
import { cosine, lengthOf, sine } from "../maths/exact";
import { FacesOfRows } from "./rows";
import { withoutPath } from "./without-path";

export interface Revolving {
  /** 0 x, 1 y, 2 z. */
  readonly axis: 0 | 1 | 2;
  /** Radians; both may be less than 0. */
  readonly start: number;
  readonly turn: number;
  /** Units along the axis over the whole turn. */
  readonly rise: number;
  readonly steps: number;
  /** Whether what is turned about a part of the way is closed at both ends; for closed curves. */
  readonly caps: boolean;
}

/** Part of its size by which a point may be off the axis and still lie on it. */
const ON_AXIS = 1e-6;

/** Faces look away from the axis, of closed curves out of what they enclose. Points on the axis stay single. */
export function revolve(curves: Curves, { axis, start, turn, rise, steps, caps }: Revolving): Mesh {
  const lanes = curves.points.columns.position.lanes;
  const [h, a, b] = [lanes[axis], lanes[(axis + 1) % 3], lanes[(axis + 2) % 3]];
  const round = rise === 0 && Math.abs(Math.abs(turn) - 2 * Math.PI) < 1e-6;
  const rows = round ? steps : steps + 1;
  const places: [number[], number[], number[]] = [[], [], []];
  const origin: number[] = [];
  const faces = new FacesOfRows();
  let size = 0;
  for (let p = 0; p < curves.points.count; p++) size = Math.max(size, lengthOf(h[p], a[p], b[p]));
  for (let k = 0; k < curves.curves.count; k++) {
    const [first, end] = [curves.curveStarts[k], curves.curveStarts[k + 1]];
    const count = end - first;
    if (count < 2) continue;
    const closed = isClosedCurve(curves, k) && count > 2;
    const pole = (p: number) => rise === 0 && lengthOf(a[p], b[p], 0) <= ON_AXIS * size;
    const numbers = Array.from({ length: rows }, () => new Int32Array(count));
    for (let i = 0; i < rows; i++) {
      const angle = start + (turn * i) / steps;
      const [c, s] = [cosine(angle), sine(angle)];
      for (let j = 0; j < count; j++) {
        tick();
        const p = first + j;
        if (i > 0 && pole(p)) {
          numbers[i][j] = numbers[0][j];
          continue;
        }
        numbers[i][j] = origin.push(p) - 1;
        places[axis].push(h[p] + (rise * i) / steps);
        places[(axis + 1) % 3].push(a[p] * c - b[p] * s);
        places[(axis + 2) % 3].push(a[p] * s + b[p] * c);
      }
    }
    const isTurned = risesOutside(h, a, b, first, count, closed) * turn > 0;
    const order = (j: number) => (isTurned && j > 0 ? count - j : j);
    const open = (j: number) => (isTurned ? count - 1 - j : j);
    const at = (i: number, j: number) => numbers[i][closed ? order(j) % count : open(j)];
    const u = Float64Array.from({ length: round ? rows + 1 : rows }, (_, i) => i / steps);
    const inOrder = (j: number) => first + (closed ? order(j) % count : open(j));
    const v = partsOfLength(count, closed, (i, j) => {
      const [p, q] = [inOrder(i), inOrder(j)];
      return lengthOf(h[q] - h[p], a[q] - a[p], b[q] - b[p]);
    });
    faces.add({ rows, size: count, around: closed, along: round, u, v, at });
    if (closed && caps && !round) faces.lids({ rows, size: count, v, at });
  }
  return makeMesh({
    position: [Float32Array.from(places[0]), Float32Array.from(places[1]), Float32Array.from(places[2])],
    ...faces.parts,
    pointColumns: gather(withoutPath(curves.points), Int32Array.from(origin)).columns,
  });
}

type Lane = ArrayLike<number>;

/** More than 0 when a curve goes up along the axis where it is furthest out: the sum of radius × height gained. */
function risesOutside(h: Lane, a: Lane, b: Lane, first: number, count: number, closed: boolean): number {
  let sum = 0;
  for (let j = 0; j < (closed ? count : count - 1); j++) {
    const [p, q] = [first + j, first + ((j + 1) % count)];
    sum += (lengthOf(a[p], b[p], 0) + lengthOf(a[q], b[q], 0)) * (h[q] - h[p]);
  }
  return sum;
}
