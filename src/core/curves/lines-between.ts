/** Lines from element to element. */
import { type Domain, makeColumn, withColumns } from "../geometry/column";
import { type Curves, makeCurves } from "../geometry/curves";

/** A line of two points for each pair, with the colours of its ends. @param ends numbers of elements, two a pair */
export function linesBetween({ columns }: Domain, ends: readonly number[]): Curves {
  const taken = (lane: ArrayLike<number>) => Float32Array.from(ends, (p) => lane[p]);
  const [x, y, z] = columns.position.lanes;
  const curves = makeCurves({
    position: [taken(x), taken(y), taken(z)],
    curveStarts: Int32Array.from({ length: ends.length / 2 + 1 }, (_, c) => c * 2),
  });
  if (columns.color?.kind !== "color") return curves;
  const color = makeColumn("color", columns.color.lanes.map(taken));
  return { ...curves, points: withColumns(curves.points, { color }) };
}
