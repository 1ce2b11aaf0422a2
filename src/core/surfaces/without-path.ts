/** What points of a surface take from the curves that it is spanned over. */
import { type Domain, withColumns } from "../geometry/column";

/** Without places and without what only means something along a path: how thick and how turned it is, and how far along. */
export function withoutPath({ count, columns }: Domain): Domain {
  const { position: _place, along: _far, radius: _r, tilt: _turn, thickness: _line, ...kept } = columns;
  return { count, columns: kept };
}

/** The same with its places, where the surface goes through them. */
export const onPath = (points: Domain): Domain =>
  withColumns(withoutPath(points), { position: points.columns.position });
