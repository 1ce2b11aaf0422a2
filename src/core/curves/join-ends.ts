/** Open curves made one where their ends meet. */
import { tick } from "../cancelling";
import { type Curves, isClosedCurve } from "../geometry/curves";
import { lengthOf } from "../maths/exact";
import { HashGrid } from "../spatial/hash-grid";
import { reachOf } from "../spatial/reach";
import { numbersOf, own } from "./own-points";
import { type SampledCurve, sampledCurves } from "./sampled-curves";

export interface Joined {
  readonly curves: Curves;
  /** How often two ends became one. */
  readonly joins: number;
}

/**
 * From the first curve on, each goes on with the one whose end is nearest to its own, and is closed when it comes back to its
 * beginning. The point of the second at a joint is left out.
 * @param distance units: ends no further apart are joined
 */
export function joinedEnds(curves: Curves, distance: number): Joined {
  const open = Array.from({ length: curves.curves.count }, (_, k) => k).filter(
    (k) => !isClosedCurve(curves, k) && curves.curveStarts[k + 1] - curves.curveStarts[k] > 1,
  );
  const ends = new Ends(curves, open, distance);
  const done = new Set<number>();
  const made: SampledCurve[] = [];
  let joins = 0;
  for (let k = 0; k < curves.curves.count; k++) {
    if (done.has(k)) continue;
    let points = numbersOf(curves, k);
    if (!open.includes(k)) {
      made.push({ of: k, closed: isClosedCurve(curves, k), samples: points.map(own) });
      continue;
    }
    done.add(k);
    let closed = false;
    // Onwards from its end; then, turned round, from its beginning.
    for (let side = 0; side < 2 && !closed; side++) {
      for (let next = ends.near(points, done); next !== null; next = ends.near(points, done)) {
        if (next === "closes") {
          points.pop();
          closed = true;
          joins++;
          break;
        }
        const other = numbersOf(curves, next.curve);
        points.push(...(next.atEnd ? other.reverse() : other).slice(1));
        done.add(next.curve);
        joins++;
      }
      points = closed ? points : points.reverse();
    }
    made.push({ of: k, closed, samples: points.map(own) });
  }
  return { curves: sampledCurves(curves, made), joins };
}

interface Found {
  readonly curve: number;
  readonly atEnd: boolean;
}

class Ends {
  private readonly lanes: readonly Float32Array[];
  private readonly grid: HashGrid;
  private readonly reach: number;
  private readonly points: readonly number[];

  constructor(
    curves: Curves,
    private readonly open: readonly number[],
    distance: number,
  ) {
    this.lanes = curves.points.columns.position.lanes as Float32Array[];
    this.points = open.flatMap((k) => [curves.curveStarts[k], curves.curveStarts[k + 1] - 1]);
    const [x, y, z] = this.lanes.map((lane) => Float32Array.from(this.points, (p) => lane[p]));
    this.reach = reachOf(distance, [x, y, z]);
    this.grid = new HashGrid([x, y, z], this.reach);
  }

  /** What goes on from the last of some points: the nearest end of another curve, or their own first point. */
  near(points: readonly number[], done: ReadonlySet<number>): Found | "closes" | null {
    const last = points[points.length - 1];
    const [x, y, z] = this.lanes.map((lane) => lane[last]);
    let best: { found: Found | "closes"; away: number } | null = null;
    this.grid.within(x, y, z, this.reach, (e) => {
      tick();
      const curve = this.open[e >> 1];
      const p = this.points[e];
      const away = lengthOf(this.lanes[0][p] - x, this.lanes[1][p] - y, this.lanes[2][p] - z);
      const closes = p === points[0] && points.length > 3;
      if ((closes || !done.has(curve)) && (best === null || away < best.away))
        best = { found: closes ? "closes" : { curve, atEnd: e % 2 === 1 }, away };
      return undefined;
    });
    return (best as { found: Found | "closes" } | null)?.found ?? null;
  }
}
