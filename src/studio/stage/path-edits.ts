/** Changes of a drawn path, as they are made on the stage and in its list. */
import { cornerAt, type DrawnPath, NO_HANDLE, type PathPoint } from "@/core/maths/drawn-path";
import { dot, minus, normalise, plus, type Vec3 } from "@/core/maths/vector";

/** Part of the way to a neighbour that a new handle goes. */
const THIRD = 1 / 3;

const size = (a: Vec3): number => Math.sqrt(dot(a, a));
/** What is kept of a place: thousandths of a unit. */
const rounded = (v: Vec3): Vec3 => v.map((n) => Number(n.toFixed(3)) + 0) as unknown as Vec3;

/** On a grid of that width; 0 for none. */
export const snapped = (place: Vec3, width: number): Vec3 =>
  rounded(width > 0 ? (place.map((v) => Math.round(v / width) * width) as unknown as Vec3) : place);

const withChanged = (path: DrawnPath, i: number, change: Partial<PathPoint>): DrawnPath => ({
  ...path,
  points: path.points.map((point, k) => (k === i ? { ...point, ...change } : point)),
});

export const changedPoint = withChanged;

/** The tip of a handle put to a place; on a smooth point the other one stays as long and goes the opposite way. */
export function withHandleAt(path: DrawnPath, i: number, part: "before" | "after", tip: Vec3): DrawnPath {
  const point = path.points[i];
  const handle = rounded(minus(tip, point.at));
  const other = part === "before" ? "after" : "before";
  if (!point.smooth) return withChanged(path, i, { [part]: handle });
  const way = normalise(handle);
  // Both begin as long as each other.
  const length = size(point[other]) || size(handle);
  return withChanged(path, i, { [part]: handle, [other]: rounded(plus(NO_HANDLE, way, -length)) });
}

/** One more point at the end, with a handle where one was pulled out of it. */
export function withPointAt(path: DrawnPath, at: Vec3, pulled: Vec3 = NO_HANDLE): DrawnPath {
  const handle = rounded(pulled);
  const isPulled = size(handle) > 0;
  const point: PathPoint = {
    ...cornerAt(rounded(at)),
    ...(isPulled && { after: handle, before: rounded(plus(NO_HANDLE, handle, -1)), smooth: true }),
  };
  return { ...path, points: [...path.points, point] };
}

export const withoutPoint = (path: DrawnPath, i: number): DrawnPath => {
  const points = path.points.filter((_, k) => k !== i);
  // What has fewer than three points has nothing to close.
  return { closed: path.closed && points.length > 2, points };
};

/** Smooth, with handles along the way from neighbour to neighbour, or a corner without any. */
export function withSmoothness(path: DrawnPath, i: number, smooth: boolean): DrawnPath {
  if (!smooth) return withChanged(path, i, { smooth, before: NO_HANDLE, after: NO_HANDLE });
  const { points, closed } = path;
  const point = points[i];
  const a = points[i - 1] ?? (closed ? points[points.length - 1] : point);
  const b = points[i + 1] ?? (closed ? points[0] : point);
  const way = normalise(minus(b.at, a.at));
  return withChanged(path, i, {
    smooth,
    before: rounded(plus(NO_HANDLE, way, -size(minus(point.at, a.at)) * THIRD)),
    after: rounded(plus(NO_HANDLE, way, size(minus(b.at, point.at)) * THIRD)),
  });
}

export const closedOrOpened = (path: DrawnPath): DrawnPath => ({
  ...path,
  closed: !path.closed && path.points.length > 2,
});
