/** What nodes ask curves, as fields: the nearest place on them. */
import { applyAll, type Value, type VectorField } from "../fields/expression";
import { freshKey } from "../fields/fresh-key";
import type { Curves } from "../geometry/curves";
import { CurveTable } from "../spatial/curve-table";
import type { NodeContext } from "./define";

/** The nearest place on curves as the operation `nearCurve` gives it; the node keeps their table. null where there are no points. */
export function nearestOnCurves(
  curves: Curves | undefined,
  place: VectorField,
  context: NodeContext,
): Value[] | null {
  const table = context.reuse<CurveTable | null>(
    (before) => (curves ? CurveTable.of(curves, before) : null),
    (made) => made?.lanes ?? [],
  );
  if (!table) return null;
  const data = { key: freshKey(), curves: table.address, pieces: table.pieces, lanes: table.lanes };
  return applyAll("nearCurve", place, data);
}
