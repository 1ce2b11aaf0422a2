/** Outlines turned so that what lies in a hole is told by the way in which it runs. */

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
    return areaOf(subpath.points) < 0 === isHole ? subpath : { ...subpath, points: reversed(subpath.points) };
  });
}

/** By the number of sides to the right of a place. */
function isInside(points: readonly number[], x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = points.length - 2; i < points.length; j = i, i += 2) {
    const [ax, ay, bx, by] = [points[i], points[i + 1], points[j], points[j + 1]];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}

function areaOf(points: readonly number[]): number {
  let sum = 0;
  for (let i = 0, j = points.length - 2; i < points.length; j = i, i += 2)
    sum += points[j] * points[i + 1] - points[i] * points[j + 1];
  return sum;
}

const reversed = (points: readonly number[]): number[] =>
  Array.from({ length: points.length }, (_, i) => points[points.length - 2 - (i - (i % 2)) + (i % 2)]);
