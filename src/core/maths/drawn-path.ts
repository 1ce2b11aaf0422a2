/** A path as it is drawn: points with handles, pieces between them straight or cubic Béziers. */
import { clip } from "./clip";
import { cosine, sine } from "./exact";
import { minus, plus, type Vec3 } from "./vector";

export interface PathPoint {
  readonly at: Vec3;
  /** Handles, from the point: which way the path comes and goes. 0 0 0 for none. */
  readonly before: Vec3;
  readonly after: Vec3;
  /** Whether the handles stay on one line when one of them is moved. */
  readonly smooth: boolean;
  /** How thick what is put around the path is there, times. */
  readonly radius: number;
  /** Degrees by which that is turned about the path. */
  readonly tilt: number;
}

export interface DrawnPath {
  readonly closed: boolean;
  readonly points: readonly PathPoint[];
}

export const NO_HANDLE: Vec3 = [0, 0, 0];

export const cornerAt = (at: Vec3): PathPoint => ({
  at,
  before: NO_HANDLE,
  after: NO_HANDLE,
  smooth: false,
  radius: 1,
  tilt: 0,
});

/** Points that a document may hold in one path. */
const MOST_POINTS = 4096;

/** What is wrong with a stored path, in words that follow its name; null when nothing is. */
export function pathFault(value: unknown): string | null {
  const path = value as Partial<DrawnPath> | null;
  if (!path || typeof path !== "object" || !Array.isArray(path.points) || typeof path.closed !== "boolean")
    return "must be a path";
  if (path.points.length > MOST_POINTS) return `has more than ${MOST_POINTS} points`;
  const bad = path.points.findIndex((point) => !isPoint(point));
  return bad < 0 ? null : `point ${bad + 1} needs a place, two handles, smooth, a radius and a tilt`;
}

const isPoint = (point: unknown): boolean => {
  const { at, before, after, smooth, radius, tilt } = (point ?? {}) as Partial<PathPoint>;
  return (
    [at, before, after].every((v) => Array.isArray(v) && v.length === 3 && v.every(Number.isFinite)) &&
    typeof smooth === "boolean" &&
    Number.isFinite(radius) &&
    Number.isFinite(tilt)
  );
};

/** Between two paths, point by point; undefined when one has more of them. */
export function betweenPaths(a: DrawnPath, b: DrawnPath, t: number): DrawnPath | undefined {
  if (a.points.length !== b.points.length || a.closed !== b.closed) return undefined;
  const mix = (from: Vec3, to: Vec3) => from.map((v, i) => v + (to[i] - v) * t) as unknown as Vec3;
  return {
    closed: a.closed,
    points: a.points.map((point, i) => {
      const to = b.points[i];
      return {
        at: mix(point.at, to.at),
        before: mix(point.before, to.before),
        after: mix(point.after, to.after),
        smooth: (t < 0.5 ? point : to).smooth,
        radius: point.radius + (to.radius - point.radius) * t,
        tilt: point.tilt + (to.tilt - point.tilt) * t,
      };
    }),
  };
}

/** A place on a path. */
export interface PathPlace {
  readonly at: Vec3;
  readonly radius: number;
  readonly tilt: number;
}

/** The path in straight pieces: so many for each that has a handle, one for those without. Of a closed one the first comes once. */
export function piecesOf({ closed, points }: DrawnPath, steps: number): PathPlace[] {
  const out: PathPlace[] = [];
  const spans = points.length < 2 ? 0 : closed ? points.length : points.length - 1;
  for (let i = 0; i < spans; i++) {
    const [a, b] = [points[i], points[(i + 1) % points.length]];
    const isStraight = isNothing(a.after) && isNothing(b.before);
    const count = isStraight ? 1 : Math.max(1, steps);
    for (let s = 0; s < count; s++) out.push(placeBetween(a, b, s / count));
  }
  if ((!closed && points.length > 0) || points.length === 1) out.push(placeOf(points[points.length - 1]));
  return out;
}

const isNothing = (handle: Vec3): boolean => handle.every((v) => v === 0);

const placeOf = ({ at, radius, tilt }: PathPoint): PathPlace => ({ at, radius, tilt });

/** On the cubic Bézier from one point to the next (P. de Casteljau). */
export function placeBetween(a: PathPoint, b: PathPoint, t: number): PathPlace {
  const s = 1 - t;
  const [w0, w1, w2, w3] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
  const at = [0, 1, 2].map(
    (i) => w0 * a.at[i] + w1 * (a.at[i] + a.after[i]) + w2 * (b.at[i] + b.before[i]) + w3 * b.at[i],
  ) as unknown as Vec3;
  return { at, radius: a.radius + (b.radius - a.radius) * t, tilt: a.tilt + (b.tilt - a.tilt) * t };
}

/** The same curve with one more point, at t between point i and the next. */
export function withPointBetween({ closed, points }: DrawnPath, i: number, t: number): DrawnPath {
  const next = (i + 1) % points.length;
  const [a, b] = [points[i], points[next]];
  const parts = clip(t, 0, 1);
  const mix = (from: Vec3, to: Vec3) => from.map((v, k) => v + (to[k] - v) * parts) as unknown as Vec3;
  const [p1, p2] = [plus(a.at, a.after), plus(b.at, b.before)];
  const [q0, q1, q2] = [mix(a.at, p1), mix(p1, p2), mix(p2, b.at)];
  const [r0, r1] = [mix(q0, q1), mix(q1, q2)];
  const at = mix(r0, r1);
  const isStraight = isNothing(a.after) && isNothing(b.before);
  const middle: PathPoint = {
    at: isStraight ? mix(a.at, b.at) : at,
    before: isStraight ? NO_HANDLE : minus(r0, at),
    after: isStraight ? NO_HANDLE : minus(r1, at),
    smooth: !isStraight,
    radius: a.radius + (b.radius - a.radius) * parts,
    tilt: a.tilt + (b.tilt - a.tilt) * parts,
  };
  const changed = points.map((point, k) => {
    if (isStraight) return point;
    if (k === i) return { ...point, after: minus(q0, a.at) };
    return k === next ? { ...point, before: minus(q2, b.at) } : point;
  });
  return { closed, points: [...changed.slice(0, i + 1), middle, ...changed.slice(i + 1)] };
}

/** Part of a handle to the radius of a circle of four pieces, which comes nearest to it (M. Goldapp, 1991, gives a bound). */
const ROUND = 0.5522847498307936;

/** A circle lying down, in four pieces. */
export function circlePath(radius: number): DrawnPath {
  const points = [0, 1, 2, 3].map((i): PathPoint => {
    const [c, s] = [Math.round(cosine((i * Math.PI) / 2)), Math.round(sine((i * Math.PI) / 2))];
    const way: Vec3 = [-s * radius * ROUND, 0, -c * radius * ROUND];
    return {
      ...cornerAt([c * radius, 0, -s * radius]),
      before: way.map((v) => -v) as unknown as Vec3,
      after: way,
      smooth: true,
    };
  });
  return { closed: true, points };
}
