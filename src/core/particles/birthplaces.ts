/** Where on a shape particles are born: elements, places of a surface, within, or along curves. */
import { tick } from "../cancelling";
import { withKin } from "../geometry/across";
import { domainBounds } from "../geometry/bounds";
import {
  type Column,
  type Columns,
  type Domain,
  LANES,
  type Lane,
  makeColumn,
  makeLanes,
} from "../geometry/column";
import { curveTangents, segments } from "../geometry/curves";
import { placedName } from "../geometry/domains";
import { type Mesh, pointLanes } from "../geometry/mesh";
import { faceNormals, pointNormals } from "../geometry/normals";
import { lanesOf, rotationsOf, type Shape } from "../geometry/shape";
import { triangleCorners } from "../geometry/triangles";
import { lengthOf } from "../maths/exact";
import { IDENTITY, rotate } from "../maths/quaternion";
import { type Vec3, Y_AXIS } from "../maths/vector";
import { Inside } from "../spatial/inside";

export const BIRTHPLACES = [
  "what is there",
  "sites",
  "points",
  "face middles",
  "surface",
  "inside",
  "curves",
  "what dies",
] as const;
export type Birthplace = (typeof BIRTHPLACES)[number];

/** Up to three elements that a place is a mean of, and how much each counts. */
export interface Mean {
  readonly elements: readonly [number, number, number];
  readonly shares: readonly [number, number, number];
}

/** One place to be born at. */
export interface Spot {
  readonly place: Vec3;
  /** Which way it looks, of any length. */
  readonly facing: Vec3;
  /** The elements that it lies between; null within a mesh, where nothing is carried. */
  readonly mean: Mean | null;
}

/** A shape as something that things are born of. */
export interface Birthplaces {
  /** How many there are to choose from; 0 where nothing can be born. */
  readonly count: number;
  /** What weights are read on. */
  readonly domain: Domain;
  /** How much each to choose from counts, from what the domain's elements weigh. */
  weightsOf(weights: ArrayLike<number>): Float64Array;
  /** @param chance numbers from 0 to 1 by channel */
  spot(chosen: number, chance: (channel: number) => number): Spot;
}

const NOWHERE: Birthplaces = {
  count: 0,
  domain: { count: 0, columns: {} },
  weightsOf: () => new Float64Array(0),
  spot: () => ({ place: [0, 0, 0], facing: [0, 1, 0], mean: null }),
};

export function birthplacesOf(shape: Shape, from: Birthplace): Birthplaces {
  const { sites, mesh, curves } = shape;
  switch (from) {
    case "what is there":
      if (sites?.count) return birthplacesOf(shape, "sites");
      return birthplacesOf(
        shape,
        mesh?.points.count ? (mesh.faces.count > 0 ? "surface" : "points") : "curves",
      );
    case "points":
      return mesh ? elements(withKin(shape, "points"), pointNormals(mesh)) : NOWHERE;
    case "face middles":
      return mesh ? elements(withKin(shape, "faces"), faceNormals(mesh)) : NOWHERE;
    case "surface":
      return mesh && mesh.faces.count > 0 ? surface(mesh, withKin(shape, "points")) : NOWHERE;
    case "inside":
      return mesh && mesh.faces.count > 0 ? within(mesh) : NOWHERE;
    case "curves":
      return curves && curves.points.count > 0
        ? along(withKin(shape, "curve points"), segments(curves), curveTangents(curves))
        : NOWHERE;
    default:
      return sites?.count ? elements(sites, lanesOf(sites, "normal", "vector").lanes) : NOWHERE;
  }
}

/** One by one. Without facings of their own they look where their tops do. */
function elements(domain: Domain, normals: readonly Lane[] | undefined): Birthplaces {
  const turn = normals ? null : rotationsOf(domain);
  const { lanes } = domain.columns.position;
  return {
    count: domain.count,
    domain,
    weightsOf: (weights) => Float64Array.from(weights, (v) => Math.max(0, v)),
    spot: (i) => ({
      place: [lanes[0][i], lanes[1][i], lanes[2][i]],
      facing: normals ? [normals[0][i], normals[1][i], normals[2][i]] : rotate(turn?.(i) ?? IDENTITY, Y_AXIS),
      mean: { elements: [i, i, i], shares: [1, 0, 0] },
    }),
  };
}

const between = (mean: Mean, lanes: readonly Lane[], facings: readonly Lane[]): Spot => ({
  place: placeAt(lanes, mean),
  facing: placeAt(facings, mean),
  mean,
});

function surface(mesh: Mesh, domain: Domain): Birthplaces {
  const points = triangleCorners(mesh).map((c) => mesh.cornerPoint[c]);
  const lanes = pointLanes(mesh);
  const normals = pointNormals(mesh);
  const [x, y, z] = lanes;
  const area = (t: number): number => {
    const [a, b, c] = [points[3 * t], points[3 * t + 1], points[3 * t + 2]];
    const [ux, uy, uz] = [x[b] - x[a], y[b] - y[a], z[b] - z[a]];
    const [vx, vy, vz] = [x[c] - x[a], y[c] - y[a], z[c] - z[a]];
    return lengthOf(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
  };
  return {
    count: points.length / 3,
    domain,
    weightsOf: (weights) =>
      Float64Array.from({ length: points.length / 3 }, (_, t) => {
        tick();
        const mean = [0, 1, 2].reduce((sum, k) => sum + Math.max(0, weights[points[3 * t + k]]), 0) / 3;
        return area(t) * mean;
      }),
    spot(t, chance) {
      // Even over the triangle (G. Turk, "Generating random points in triangles", Graphics Gems, 1990).
      const root = Math.sqrt(chance(5));
      const third = root * chance(6);
      const shares = [1 - root, root - third, third] as const;
      return between(
        { elements: [points[3 * t], points[3 * t + 1], points[3 * t + 2]], shares },
        lanes,
        normals,
      );
    },
  };
}

/** Two ends a piece, one after the other. */
function along(domain: Domain, pieces: Int32Array, tangents: readonly Lane[]): Birthplaces {
  const { lanes } = domain.columns.position;
  return {
    count: pieces.length / 2,
    domain,
    weightsOf: (weights) =>
      Float64Array.from({ length: pieces.length / 2 }, (_, i) => {
        const [p, q] = [pieces[2 * i], pieces[2 * i + 1]];
        const way = lanes.map((lane) => lane[q] - lane[p]) as [number, number, number];
        return (lengthOf(...way) * (Math.max(0, weights[p]) + Math.max(0, weights[q]))) / 2;
      }),
    spot(i, chance) {
      const share = chance(5);
      const ends = [pieces[2 * i], pieces[2 * i + 1], pieces[2 * i]] as const;
      return between({ elements: ends, shares: [1 - share, share, 0] }, lanes, tangents);
    },
  };
}

/** Throws at the box around a mesh that are made for a place within, at most. */
const THROWS = 64;

/** Evenly within a closed mesh. */
function within(mesh: Mesh): Birthplaces {
  const box = domainBounds(mesh.points);
  if (!box) return NOWHERE;
  const inside = new Inside(mesh);
  return {
    count: 1,
    domain: { count: 1, columns: { position: makeColumn("vector", makeLanes("vector", 1)) } },
    weightsOf: (weights) => Float64Array.of(Math.max(0, weights[0])),
    spot(_chosen, chance) {
      let place: Vec3 = [0, 0, 0];
      for (let k = 0; k < THROWS; k++) {
        place = [0, 1, 2].map(
          (a) => box.min[a] + (box.max[a] - box.min[a]) * chance(16 + 3 * k + a),
        ) as unknown as Vec3;
        if (isWithin(inside, place)) break;
      }
      return { place, facing: Y_AXIS, mean: null };
    },
  };
}

function isWithin(inside: Inside, [x, y, z]: Vec3): boolean {
  const { count, x: at, turns } = inside.crossings(y, z);
  let depth = 0;
  for (let i = 0; i < count && at[i] < x; i++) depth += turns[i];
  return depth > 0;
}

/** The place of a mean, of lanes that may be those of another frame. */
export const placeAt = (lanes: readonly Lane[], mean: Mean): Vec3 => [
  meanOf(lanes[0], mean),
  meanOf(lanes[1], mean),
  meanOf(lanes[2], mean),
];

const meanOf = (lane: Lane, { elements: [a, b, c], shares: [u, v, w] }: Mean): number =>
  lane[a] * u + lane[b] * v + lane[c] * w;

/** What stays with the source: what a particle has of its own, and what only places have. */
const NOT_CARRIED = new Set(["position", "id", "normal", "velocity", "age", "life", "source", "uv"]);

/** What the source carries at those spots. Whole numbers and turns are those of the element that counts most. */
export function carriedAt({ columns }: Domain, spots: readonly Spot[]): Columns {
  const made: Record<string, Column> = {};
  // Colours may be those of faces or corners, which are not listed.
  for (const name of new Set([...Object.keys(columns), ...(columns.color ? ["color"] : [])])) {
    if (NOT_CARRIED.has(name)) continue;
    const { kind, lanes } = columns[name];
    const out = makeLanes(kind, spots.length);
    const isMixed = kind !== "integer" && kind !== "rotation";
    for (const [i, { mean }] of spots.entries()) {
      if (!mean) continue;
      const most = mean.elements[mean.shares.indexOf(Math.max(...mean.shares))];
      for (let l = 0; l < LANES[kind]; l++) out[l][i] = isMixed ? meanOf(lanes[l], mean) : lanes[l][most];
    }
    made[name] = makeColumn(kind, out);
  }
  return made;
}

/** Whether means of one shape's elements say the same of another's: the same faces, curves or number of sites. */
export function isAlike(before: Shape | undefined, now: Shape): boolean {
  if (!before) return false;
  if (placedName(before) !== placedName(now)) return false;
  return (
    before.sites?.count === now.sites?.count &&
    before.mesh?.cornerPoint.length === now.mesh?.cornerPoint.length &&
    before.mesh?.points.count === now.mesh?.points.count &&
    before.curves?.points.count === now.curves?.points.count
  );
}
