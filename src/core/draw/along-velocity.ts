/** A shape a moment later, by the speeds that its elements carry alone: for motion blur that asks for no other frame. */
import { add, column, constant, positionField, scaleBy } from "../fields/expression";
import { runValues } from "../fields/run";
import { makeColumn, withColumns } from "../geometry/column";
import { DOMAINS, PLACED } from "../geometry/domains";
import type { Shape } from "../geometry/shape";

/** Places moved on by the vector `velocity`, units a second; what has none stays. Its sources are moved likewise, where they stand. */
export function alongVelocity(shape: Shape, seconds: number): Shape {
  let moved = shape;
  for (const name of PLACED) {
    const domain = DOMAINS[name].of(moved);
    if (domain?.columns.velocity?.kind !== "vector") continue;
    const places = positionField().map((p, a) => add(p, scaleBy(column("velocity", a), constant(seconds))));
    const { lanes } = runValues(places, domain, { onlyFinite: true });
    moved = DOMAINS[name].put(moved, withColumns(domain, { position: makeColumn("vector", lanes) }));
  }
  const sources = shape.sources?.map((source) => alongVelocity(source, seconds));
  // Sources that did not move stay the very same, so that their meshes are not sent again.
  return sources?.some((source, s) => source !== shape.sources?.[s]) ? { ...moved, sources } : moved;
}
