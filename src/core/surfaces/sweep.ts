/** Outlines swept along curves. */

import { tick } from "../cancelling";
import { partsOfLength } from "../curves/parts-of-length";
import { gather } from "../geometry/column";
import { type Curves, curveTangents, isClosedCurve } from "../geometry/curves";
import { steadyNormals, tilted } from "../geometry/frames";
import { type Mesh, makeMesh } from "../geometry/mesh";
import { lengthOf } from "../maths/exact";
import { cross, type Vec3 } from "../maths/vector";
import { FacesOfRows } from "./rows";
import type { Section } from "./section";
import { withoutPath } from "./without-path";

export interface Sweep {
  /** What is swept, along each curve one after the other, blended between; all with as many points. */
  readonly sections: readonly Section[];
  /** Size of the section at each of the curves' points; times their `radius`, where they have one. */
  readonly size: ArrayLike<number>;
  /** Degrees by which it is turned about the curve at each of its points, besides their `tilt`. */
  readonly roll?: ArrayLike<number>;
  /** Whether the ends of open curves are closed. */
  readonly caps: boolean;
}

/**
 * A section at every point of all curves of two points and more, joined by faces; null without any. What the curves' points carry is
 * kept. Laid out for pictures: along each curve from left to right, by length, and once around from top to bottom; lids by
 * themselves.
 */
export function sweep(curves: Curves, { sections, size, roll, caps }: Sweep): Mesh | null {
  const kept = Array.from({ length: curves.curves.count }, (_, k) => k).filter(
    (k) => curves.curveStarts[k + 1] - curves.curveStarts[k] > 1,
  );
  const { position: placed, radius, tilt } = curves.points.columns;
  const { lanes } = placed;
  const turn =
    roll && tilt ? Float32Array.from(roll, (angle, p) => angle + tilt.lanes[0][p]) : (roll ?? tilt?.lanes[0]);
  const tangents = curveTangents(curves);
  const rings = kept.reduce((sum, k) => sum + curves.curveStarts[k + 1] - curves.curveStarts[k], 0);
  const around = sections[0].flat.length / 2;
  if (rings === 0) return null;
  const position = [0, 1, 2].map(() => new Float32Array(rings * around));
  // The curve's point that each belongs to.
  const origin = new Int32Array(rings * around);
  const faces = new FacesOfRows();
  const { closed: isRound, parts: v } = sections[0];
  let ring = 0;
  for (const k of kept) {
    const first = curves.curveStarts[k];
    const count = curves.curveStarts[k + 1] - first;
    const closed = isClosedCurve(curves, k) && count > 2;
    const steady = steadyNormals(lanes, tangents, first, first + count, closed, [0, 1, 0]);
    const normals = tilted(steady, tangents, first, turn);
    const along = partsOfLength(count, closed, (i, j) => distance(lanes, first + i, first + j));
    const base = ring * around;
    for (let i = 0; i < count; i++, ring++) {
      tick(around);
      const away = size[first + i] * (radius?.lanes[0][first + i] ?? 1);
      const normal: Vec3 = [normals[0][i], normals[1][i], normals[2][i]];
      const side = cross([tangents[0][first + i], tangents[1][first + i], tangents[2][first + i]], normal);
      const section = blended(sections, along[i], closed);
      for (let j = 0; j < around; j++) {
        const p = ring * around + j;
        const [c, s] = [section[2 * j], section[2 * j + 1]];
        origin[p] = first + i;
        for (let a = 0; a < 3; a++)
          position[a][p] = lanes[a][first + i] + (normal[a] * c + side[a] * s) * away;
      }
    }
    const at = (i: number, j: number) => base + i * around + j;
    faces.add({ rows: count, size: around, around: isRound, along: closed, u: along, v, at });
    if (!closed && caps && isRound)
      for (const end of [0, count - 1])
        lid(faces, sections[end === 0 ? 0 : sections.length - 1], end > 0, (j) => at(end, j));
  }
  return makeMesh({
    position: [position[0], position[1], position[2]],
    ...faces.parts,
    pointColumns: gather(withoutPath(curves.points), origin).columns,
  });
}

/** The section at a part of the way. */
function blended(sections: readonly Section[], part: number, closed: boolean): ArrayLike<number> {
  if (sections.length === 1) return sections[0].flat;
  const at = part * (closed ? sections.length : sections.length - 1);
  const low = Math.min(Math.floor(at), sections.length - (closed ? 1 : 2));
  const [from, to] = [sections[low].flat, sections[(low + 1) % sections.length].flat];
  const t = at - low;
  return Float64Array.from(from, (value, i) => value + (to[i] - value) * t);
}

/** Closes an end. Seen from outside, both run counter-clockwise; pictures run downwards. */
function lid(faces: FacesOfRows, { flat }: Section, isLast: boolean, at: (j: number) => number): void {
  const count = flat.length / 2;
  let most = 0;
  for (let i = 0; i < flat.length; i++) most = Math.max(most, Math.abs(flat[i]));
  const order = Array.from({ length: count }, (_, j) => (isLast ? j : count - 1 - j));
  faces.face(
    order.map(at),
    Array.from({ length: count }, (_, j) => 0.5 + flat[2 * j] / (2 * most || 1)),
    Array.from({ length: count }, (_, j) => 0.5 - flat[2 * j + 1] / (2 * most || 1)),
  );
}

const distance = ([x, y, z]: readonly ArrayLike<number>[], p: number, q: number): number =>
  lengthOf(x[q] - x[p], y[q] - y[p], z[q] - z[p]);
