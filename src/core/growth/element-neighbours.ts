/** Who is beside whom: points of a mesh along its edges, points of curves along them, sites by who is nearest. */
import { tick } from "../cancelling";
import { isClosedCurve } from "../geometry/curves";
import { placedName } from "../geometry/domains";
import type { Shape } from "../geometry/shape";
import { type Incidence, topologyOf } from "../geometry/topology";
import { PointGrid } from "../spatial/point-grid";

/** Sites have so many neighbours, as in a honeycomb. */
const NEAREST = 6;

/** What was found for sites: by a lane of their places, which is never changed. */
const known = new WeakMap<ArrayLike<number>, Incidence>();

/** Of the elements that a shape's places are of; null where nothing arrives. */
export function neighboursOf(shape: Shape): Incidence | null {
  const on = placedName(shape);
  if (on === "points" && shape.mesh) return topologyOf(shape.mesh).pointsOfPoints;
  if (on === "curve points" && shape.curves) return alongCurves(shape.curves);
  if (on !== "sites" || !shape.sites || shape.sites.count === 0) return null;
  const { lanes } = shape.sites.columns.position;
  let found = known.get(lanes[0]);
  if (!found) {
    found = nearestOnes(lanes);
    known.set(lanes[0], found);
  }
  return found;
}

function alongCurves(curves: NonNullable<Shape["curves"]>): Incidence {
  const { curveStarts, points } = curves;
  const starts = new Int32Array(points.count + 1);
  const items: number[] = [];
  for (let k = 0; k < curves.curves.count; k++) {
    const [first, end] = [curveStarts[k], curveStarts[k + 1]];
    const isRing = isClosedCurve(curves, k) && end - first > 2;
    for (let p = first; p < end; p++) {
      tick();
      if (p > first || isRing) items.push(p > first ? p - 1 : end - 1);
      if (p < end - 1 || isRing) items.push(p < end - 1 ? p + 1 : first);
      starts[p + 1] = items.length;
    }
  }
  return { starts, items: Int32Array.from(items) };
}

/** Both are neighbours where either is among the nearest of the other, so that nothing flows one way only. */
function nearestOnes(places: readonly ArrayLike<number>[]): Incidence {
  const count = places[0].length;
  const { numbers } = new PointGrid(places).nearest(places, {
    k: Math.min(NEAREST, count - 1) || 1,
    own: true,
  });
  const k = numbers.length / count;
  const beside: Set<number>[] = Array.from({ length: count }, () => new Set());
  for (let i = 0; i < count; i++)
    for (let j = 0; j < k; j++) {
      tick();
      const other = numbers[i * k + j];
      if (other < 0) continue;
      beside[i].add(other);
      beside[other].add(i);
    }
  const starts = new Int32Array(count + 1);
  for (let i = 0; i < count; i++) starts[i + 1] = starts[i] + beside[i].size;
  return { starts, items: Int32Array.from(beside.flatMap((all) => [...all].sort((a, b) => a - b))) };
}
