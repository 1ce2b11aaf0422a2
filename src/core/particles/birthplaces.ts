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
import { triangleArea, triangleCorners } from "../geometry/triangles";
import { lengthOf } from "../maths/exact";
import { rotate } from "../maths/quaternion";
import { hash3, unit24 } from "../maths/random";
import { Y_AXIS } from "../maths/vector";
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

/** Number `number` of the chances of an emitter, 0 to 1, by channel. */
export const chanceOf = (seed: number, number: number, channel: number): number =>
  unit24(hash3(seed, number, channel));

type Three = readonly [number, number, number];

/** Places to be born at: each the mean of up to three elements of the source, or free of them. */
export class Spots {
  readonly place: readonly Float32Array[];
  /** Which way the source looks there, of any length. */
  readonly facing: readonly Float32Array[];
  private readonly elements: readonly Int32Array[];
  private readonly shares: readonly Float32Array[];

  constructor(readonly count: number) {
    const lanes = () => [0, 1, 2].map(() => new Float32Array(count));
    this.elements = [0, 1, 2].map(() => new Int32Array(count).fill(-1));
    [this.shares, this.place, this.facing] = [lanes(), lanes(), lanes()];
  }

  /** Whether elements are known: within a mesh nothing is carried. */
  isOfElements(i: number): boolean {
    return this.elements[0][i] >= 0;
  }

  mean(lane: Lane, i: number): number {
    const [a, b, c] = this.elements;
    const [u, v, w] = this.shares;
    return lane[a[i]] * u[i] + lane[b[i]] * v[i] + lane[c[i]] * w[i];
  }

  /** The element that counts most. */
  nearest(i: number): number {
    const [u, v, w] = this.shares;
    return this.elements[u[i] >= v[i] && u[i] >= w[i] ? 0 : v[i] >= w[i] ? 1 : 2][i];
  }

  /** Spot i lies at the mean of three elements, and looks as they do. */
  lie(
    i: number,
    elements: Three,
    shares: Three,
    lanes: readonly Lane[],
    facings: readonly Lane[] | null,
  ): void {
    for (let k = 0; k < 3; k++) {
      this.elements[k][i] = elements[k];
      this.shares[k][i] = shares[k];
    }
    for (let a = 0; a < 3; a++) {
      this.place[a][i] = this.mean(lanes[a], i);
      if (facings) this.facing[a][i] = this.mean(facings[a], i);
    }
  }
}

/** A shape as something that things are born of. */
export interface Birthplaces {
  /** How many there are to choose from; 0 where nothing can be born. */
  readonly count: number;
  /** What weights are read on. */
  readonly domain: Domain;
  /** How much each to choose from counts, from what the domain's elements weigh. */
  weightsOf(weights: ArrayLike<number>): Float64Array;
  /** Puts one of them at spot i, by the chances of a number. */
  put(spots: Spots, i: number, chosen: number, seed: number, number: number): void;
}

const NOWHERE: Birthplaces = {
  count: 0,
  domain: { count: 0, columns: {} },
  weightsOf: () => new Float64Array(0),
  put: () => {},
};

const known = new WeakMap<Shape, Map<Birthplace, Birthplaces>>();

/** What was worked out of a shape is kept for as long as that is there: a source that stays costs nothing at the next step. */
export function birthplacesOf(shape: Shape, from: Birthplace): Birthplaces {
  let places = known.get(shape);
  if (!places) known.set(shape, (places = new Map()));
  let found = places.get(from);
  if (!found) places.set(from, (found = placesIn(shape, from)));
  return found;
}

function placesIn(shape: Shape, from: Birthplace): Birthplaces {
  const { sites, mesh, curves } = shape;
  switch (from) {
    case "what is there":
      if (sites?.count) return birthplacesOf(shape, "sites");
      return birthplacesOf(
        shape,
        mesh?.points.count ? (mesh.faces.count > 0 ? "surface" : "points") : "curves",
      );
    case "points":
      return mesh ? elements(withKin(shape, "points"), pointNormals(mesh).map(ownCopy)) : NOWHERE;
    case "face middles":
      return mesh ? elements(withKin(shape, "faces"), faceNormals(mesh).map(ownCopy)) : NOWHERE;
    case "surface":
      return mesh && mesh.faces.count > 0 ? surface(mesh, withKin(shape, "points")) : NOWHERE;
    case "inside":
      return mesh && mesh.faces.count > 0 ? within(mesh) : NOWHERE;
    case "curves":
      return curves && curves.points.count > 0
        ? along(withKin(shape, "curve points"), segments(curves), curveTangents(curves).map(ownCopy))
        : NOWHERE;
    default:
      return sites?.count ? elements(sites, lanesOf(sites, "normal", "vector").lanes) : NOWHERE;
  }
}

/** A lane that nobody takes back when the evaluation is over. */
const ownCopy = (lane: Float32Array): Float32Array => new Float32Array(lane);

/** One by one. Without facings of their own they look where their tops do. */
function elements(domain: Domain, normals: readonly Lane[] | undefined): Birthplaces {
  const turn = normals ? null : rotationsOf(domain);
  const { lanes } = domain.columns.position;
  return {
    count: domain.count,
    domain,
    weightsOf: (weights) => Float64Array.from(weights, (v) => Math.max(0, v)),
    put(spots, i, chosen) {
      spots.lie(i, [chosen, chosen, chosen], ALONE, lanes, normals ?? null);
      if (!turn) return;
      const top = rotate(turn(chosen), Y_AXIS);
      for (let a = 0; a < 3; a++) spots.facing[a][i] = top[a];
    },
  };
}

const ALONE: Three = [1, 0, 0];

function surface(mesh: Mesh, domain: Domain): Birthplaces {
  const points = triangleCorners(mesh).map((c) => mesh.cornerPoint[c]);
  const lanes = pointLanes(mesh);
  const normals = pointNormals(mesh).map(ownCopy);
  const cornersOf = (t: number): Three => [points[3 * t], points[3 * t + 1], points[3 * t + 2]];
  return {
    count: points.length / 3,
    domain,
    weightsOf: (weights) =>
      Float64Array.from({ length: points.length / 3 }, (_, t) => {
        tick();
        const corners = cornersOf(t);
        const mean = corners.reduce((sum, p) => sum + Math.max(0, weights[p]), 0) / 3;
        return triangleArea(lanes, ...corners) * mean;
      }),
    put(spots, i, t, seed, number) {
      // Even over the triangle (G. Turk, "Generating random points in triangles", Graphics Gems, 1990).
      const root = Math.sqrt(chanceOf(seed, number, 5));
      const third = root * chanceOf(seed, number, 6);
      spots.lie(i, cornersOf(t), [1 - root, root - third, third], lanes, normals);
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
    put(spots, i, piece, seed, number) {
      const share = chanceOf(seed, number, 5);
      const ends: Three = [pieces[2 * piece], pieces[2 * piece + 1], pieces[2 * piece]];
      spots.lie(i, ends, [1 - share, share, 0], lanes, tangents);
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
    put(spots, i, _chosen, seed, number) {
      const place = [0, 0, 0];
      for (let k = 0; k < THROWS; k++) {
        for (let a = 0; a < 3; a++)
          place[a] = box.min[a] + (box.max[a] - box.min[a]) * chanceOf(seed, number, 16 + 3 * k + a);
        if (inside.contains(place[0], place[1], place[2])) break;
      }
      for (let a = 0; a < 3; a++) spots.place[a][i] = place[a];
      spots.facing[1][i] = 1;
    },
  };
}

/** What stays with the source: what a particle has of its own, and what only places have. */
const NOT_CARRIED = new Set(["position", "id", "normal", "velocity", "age", "life", "source", "uv"]);

/** What the source carries at those spots. Whole numbers and turns are those of the element that counts most. */
export function carriedAt({ columns }: Domain, spots: Spots): Columns {
  const made: Record<string, Column> = {};
  // Colours may be those of faces or corners, which are not listed.
  for (const name of new Set([...Object.keys(columns), ...(columns.color ? ["color"] : [])])) {
    if (NOT_CARRIED.has(name)) continue;
    const { kind, lanes } = columns[name];
    const out = makeLanes(kind, spots.count);
    const isMixed = kind !== "integer" && kind !== "rotation";
    for (let l = 0; l < LANES[kind]; l++)
      for (let i = 0; i < spots.count; i++) {
        tick(0.5);
        if (spots.isOfElements(i)) out[l][i] = isMixed ? spots.mean(lanes[l], i) : lanes[l][spots.nearest(i)];
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
