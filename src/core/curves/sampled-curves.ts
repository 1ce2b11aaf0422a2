/** Curves made of places along other curves, with what those carry there. */
import { tick } from "../cancelling";
import { type Columns, gather, makeColumn, makeLanes } from "../geometry/column";
import { type Curves, makeCurves } from "../geometry/curves";

/** A place between two points, and how far from the first to the second. */
export interface Sample {
  readonly p: number;
  readonly q: number;
  readonly t: number;
}

/** New points, curve by curve. */
export interface SampledCurve {
  /** The curve that it comes from, whose columns it keeps. */
  readonly of: number;
  readonly closed: boolean;
  readonly samples: readonly Sample[];
}

/** Attributes of points are mixed, whole numbers taken from the nearer one; `along` is worked out anew. */
export function sampledCurves(curves: Curves, made: readonly SampledCurve[]): Curves {
  const all = made.flatMap(({ samples }) => samples);
  const columns: Record<string, Columns[string]> = {};
  for (const [name, column] of Object.entries(curves.points.columns)) {
    const lanes = makeLanes(column.kind, all.length);
    for (const [l, lane] of column.lanes.entries()) {
      tick(all.length);
      const isWhole = lane instanceof Int32Array;
      for (const [i, { p, q, t }] of all.entries())
        lanes[l][i] = isWhole ? lane[t < 0.5 ? p : q] : lane[p] + (lane[q] - lane[p]) * t;
    }
    columns[name] = makeColumn(column.kind, lanes);
  }
  const curveStarts = new Int32Array(made.length + 1);
  for (const [k, { samples }] of made.entries()) curveStarts[k + 1] = curveStarts[k] + samples.length;
  const fresh = makeCurves({
    position: columns.position.lanes as [Float32Array, Float32Array, Float32Array],
    curveStarts,
    closed: Int32Array.from(made, ({ closed }) => (closed ? 1 : 0)),
  });
  const kept = gather(
    curves.curves,
    Int32Array.from(made, ({ of }) => of),
  );
  const { along } = fresh.points.columns;
  return {
    ...fresh,
    points: { count: all.length, columns: { ...columns, along } },
    curves: { count: made.length, columns: { ...kept.columns, closed: fresh.curves.columns.closed } },
  };
}
