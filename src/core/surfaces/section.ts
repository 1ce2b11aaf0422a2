/** What is swept along a path: a flat outline across it. */

import { AlongCurves } from "../curves/along-curves";
import { evenSamples } from "../curves/even-samples";
import { partsOfLength } from "../curves/parts-of-length";
import { sampledCurves } from "../curves/sampled-curves";
import { type Curves, isClosedCurve } from "../geometry/curves";
import { flatPlaces, planeOf } from "../geometry/plane";
import { cosine, lengthOf, sine } from "../maths/exact";
import { twiceArea } from "../maths/polygon";

export interface Section {
  /** x y of each point, counter-clockwise when closed: x along the path's normal, y to its side. */
  readonly flat: ArrayLike<number>;
  readonly closed: boolean;
  /** How far along it each point is, 0 … 1; a closed one has its end once more. */
  readonly parts: ArrayLike<number>;
}

/** A regular polygon in a circle of radius 1. */
export function roundSection(sides: number): Section {
  const flat = new Float64Array(sides * 2);
  for (let s = 0; s < sides; s++) {
    const angle = (s / sides) * 2 * Math.PI;
    flat[2 * s] = cosine(angle);
    flat[2 * s + 1] = sine(angle);
  }
  return { flat, closed: true, parts: Float64Array.from({ length: sides + 1 }, (_, s) => s / sides) };
}

/**
 * Curves as sections, as they lie about the origin in the plane that they lie in; all with as many points as the one that has most.
 * Open ones are closed neither here nor later; where some are open all are taken to be.
 */
export function sectionsOf(curves: Curves): Section[] {
  const kept = Array.from({ length: curves.curves.count }, (_, k) => k).filter(
    (k) => curves.curveStarts[k + 1] - curves.curveStarts[k] > 1,
  );
  const closed = kept.every(
    (k) => isClosedCurve(curves, k) && curves.curveStarts[k + 1] - curves.curveStarts[k] > 2,
  );
  const along = new AlongCurves(curves);
  const most = Math.max(0, ...kept.map((k) => curves.curveStarts[k + 1] - curves.curveStarts[k]));
  const even = sampledCurves(
    curves,
    kept.map((k) => ({ of: k, closed, samples: evenSamples(curves, along, k, most) })),
  );
  const plane = { ...planeOf(even), origin: [0, 0, 0] as const };
  return kept.map((_, i) => {
    const [first, end] = [even.curveStarts[i], even.curveStarts[i + 1]];
    const seen = flatPlaces(plane, even.points.columns.position.lanes, first, end).flat;
    // What is up in the plane goes along the path's normal, which is up where the path begins.
    const flat = seen.map((_, i) => (i % 2 === 0 ? seen[i + 1] : -seen[i - 1]));
    return {
      flat: closed && twiceArea(flat) < 0 ? turned(flat) : flat,
      closed,
      parts: partsOf(flat, closed),
    };
  });
}

/** The other way round from the same first point. */
const turned = (flat: readonly number[]): number[] =>
  Array.from({ length: flat.length }, (_, i) => {
    const point = i >> 1;
    const from = point === 0 ? 0 : flat.length / 2 - point;
    return flat[2 * from + (i & 1)];
  });

const partsOf = (flat: ArrayLike<number>, closed: boolean): Float64Array =>
  partsOfLength(flat.length / 2, closed, (p, q) =>
    lengthOf(flat[2 * q] - flat[2 * p], flat[2 * q + 1] - flat[2 * p + 1], 0),
  );

/** The same section from another of its points on, where a picture that is put around it begins. @param part how far round, 0 … 1 */
export function begunAt(section: Section, part: number): Section {
  const count = section.flat.length / 2;
  const first = Math.round(part * count) % count;
  if (!section.closed || first === 0) return section;
  const flat = Array.from(section.flat, (_, i) => section.flat[(i + 2 * first) % (2 * count)]);
  return { flat, closed: true, parts: partsOf(flat, true) };
}
