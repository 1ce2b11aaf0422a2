/**
 * Frames along a curve that do not twist: the double reflection method of W. Wang, B. Jüttler, D. Zheng and Y. Liu,
 * "Computation of rotation minimizing frames", ACM TOG 27, 2008.
 */
import { arcTangent2, cosine, lengthOf, sine } from "../maths/exact";
import { anyAcross, cross, dot, minus, normalise, type Vec3 } from "../maths/vector";

type Lanes = readonly ArrayLike<number>[];

const at = (lanes: Lanes, p: number): Vec3 => [lanes[0][p], lanes[1][p], lanes[2][p]];
const less = (a: Vec3, b: Vec3, times: number): Vec3 => [
  a[0] - b[0] * times,
  a[1] - b[1] * times,
  a[2] - b[2] * times,
];

/**
 * Unit normals at points `first` … `end` − 1 of a curve, three lanes, as near to `up` at the first point as can be. A closed
 * curve comes back to its first normal: what is left over is spread along it.
 * @param place x, y, z of the points
 * @param tangent unit directions of travel there
 */
export function steadyNormals(
  place: Lanes,
  tangent: Lanes,
  first: number,
  end: number,
  closed: boolean,
  up: Vec3,
): Float64Array[] {
  const count = end - first;
  const out = [0, 1, 2].map(() => new Float64Array(count));
  if (count === 0) return out;
  let normal = across(up, at(tangent, first));
  const put = (i: number) => {
    for (let a = 0; a < 3; a++) out[a][i] = normal[a];
  };
  put(0);
  const begin = normal;
  for (let i = 1; i < count; i++) {
    normal = reflectTwice(place, tangent, first + i - 1, first + i, normal);
    put(i);
  }
  if (!closed || count < 3) return out;
  const back = reflectTwice(place, tangent, end - 1, first, normal);
  const axis = at(tangent, first);
  const left = arcTangent2(dot(cross(back, begin), axis), dot(back, begin));
  for (let i = 1; i < count; i++) {
    const turned = turnAbout(at(out, i), at(tangent, first + i), (left * i) / count);
    for (let a = 0; a < 3; a++) out[a][i] = turned[a];
  }
  return out;
}

/**
 * Normals of a curve turned in place about its directions, by as many degrees as its points say.
 * @param tilt degrees, by point; without any they stay
 * @returns the very same normals
 */
export function tilted(
  normals: Float64Array[],
  tangent: Lanes,
  first: number,
  tilt: ArrayLike<number> | undefined,
): Float64Array[] {
  for (let i = 0; tilt && i < normals[0].length; i++) {
    const turned = turnAbout(at(normals, i), at(tangent, first + i), (tilt[first + i] * Math.PI) / 180);
    for (let a = 0; a < 3; a++) normals[a][i] = turned[a];
  }
  return normals;
}

/** The normal at q that belongs to the one at p. */
function reflectTwice(place: Lanes, tangent: Lanes, p: number, q: number, normal: Vec3): Vec3 {
  const step = minus(at(place, q), at(place, p));
  const far = dot(step, step);
  if (far === 0) return normal;
  const mirrored = less(normal, step, (2 * dot(step, normal)) / far);
  const ahead = less(at(tangent, p), step, (2 * dot(step, at(tangent, p))) / far);
  const between = minus(at(tangent, q), ahead);
  const apart = dot(between, between);
  return apart < 1e-24 ? mirrored : less(mirrored, between, (2 * dot(between, mirrored)) / apart);
}

/** A unit vector across `direction`, as near to `up` as can be; any one where they are parallel. */
export function across(up: Vec3, direction: Vec3): Vec3 {
  const part = less(up, direction, dot(up, direction));
  if (lengthOf(...part) > 1e-6) return normalise(part);
  return anyAcross(direction);
}

/** `v` turned about a unit axis that it is across to. */
function turnAbout(v: Vec3, axis: Vec3, angle: number): Vec3 {
  const side = cross(axis, v);
  const [s, c] = [sine(angle), cosine(angle)];
  return [v[0] * c + side[0] * s, v[1] * c + side[1] * s, v[2] * c + side[2] * s];
}
