/** A node's elements as tables: the domain a designer would look at, and its rows as plain data. */
import type { Domain } from "../../geometry/column";
import type { Shape } from "../../geometry/shape";

/** Sites if the shape has any, else the points of its mesh, else of its curves. */
export function mainDomain(shape: Shape): { name: "sites" | "points"; domain: Domain } {
  if (shape.sites) return { name: "sites", domain: shape.sites };
  return { name: "points", domain: shape.mesh?.points ?? shape.curves?.points ?? { count: 0, columns: {} } };
}

export interface ValuesTable {
  readonly frame: number;
  readonly domain: string;
  readonly count: number;
  /** One entry an element: a number, or a list of the components. */
  readonly columns: Readonly<Record<string, readonly (number | readonly number[])[]>>;
}

export function valuesTable(shape: Shape, frame: number): ValuesTable {
  const { name, domain } = mainDomain(shape);
  const columns = Object.fromEntries(
    Object.entries(domain.columns).map(([column, { lanes }]) => [
      column,
      Array.from({ length: domain.count }, (_, i) =>
        lanes.length === 1 ? lanes[0][i] : lanes.map((lane) => lane[i]),
      ),
    ]),
  );
  return { frame, domain: name, count: domain.count, columns };
}
