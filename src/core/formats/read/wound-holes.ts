/** Outlines turned so that what lies in a hole is told by the way in which it runs. */

import { isInside, reversed, twiceArea } from "../../maths/polygon";

interface Subpath {
  readonly points: readonly number[];
  readonly closed: boolean;
}

/**
 * Closed outlines of one path that is filled by every other layer (SVG 1.1 §11.3, evenodd), turned round where needed so that filling by
 * winding gives the same: those within an even number of others counter-clockwise, the others clockwise. They must not cross.
 */
export function woundHoles<S extends Subpath>(subpaths: readonly S[]): S[] {
  const closed = subpaths.filter((subpath) => subpath.closed);
  if (closed.length < 2) return [...subpaths];
  return subpaths.map((subpath) => {
    if (!subpath.closed) return subpath;
    const [x, y] = subpath.points;
    const depth = closed.filter((other) => other !== subpath && isInside(other.points, x, y)).length;
    const isHole = depth % 2 === 1;
    return twiceArea(subpath.points) < 0 === isHole
      ? subpath
      : { ...subpath, points: reversed(subpath.points) };
  });
}
