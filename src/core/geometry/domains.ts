/**
 * The domains of a shape in one table: what each is called, where it stands and how a shape with another one in its place is
 * made. What goes over all parts of a shape goes over this table, so a new domain is named here and nowhere else.
 */
import { type Column, type Domain, type Lane, lanesIn } from "./column";
import { type Mesh, withPoints } from "./mesh";
import type { Shape } from "./shape";

/** In the order of what is looked at first. */
export const DOMAIN_NAMES = [
  "sites",
  "points",
  "corners",
  "edges",
  "faces",
  "curve points",
  "curves",
  "voxels",
] as const;
export type DomainName = (typeof DOMAIN_NAMES)[number];

interface DomainEntry {
  /** The domain as it is stored; edges are only stored once they carry something. */
  readonly of: (shape: Shape) => Domain | undefined;
  /** A shape that has the part which the domain belongs to, with another domain of the same count. */
  readonly put: (shape: Shape, domain: Domain) => Shape;
}

const ofMesh = (name: "corners" | "edges" | "faces"): DomainEntry => ({
  of: ({ mesh }) => mesh?.[name],
  put: (shape, domain) => ({ ...shape, mesh: { ...(shape.mesh as Mesh), [name]: domain } }),
});

export const DOMAINS: Readonly<Record<DomainName, DomainEntry>> = {
  sites: { of: ({ sites }) => sites, put: (shape, sites) => ({ ...shape, sites }) },
  points: {
    of: ({ mesh }) => mesh?.points,
    put: (shape, points) => ({ ...shape, mesh: withPoints(shape.mesh as Mesh, points) }),
  },
  corners: ofMesh("corners"),
  edges: ofMesh("edges"),
  faces: ofMesh("faces"),
  "curve points": {
    of: ({ curves }) => curves?.points,
    put: (shape, points) => (shape.curves ? { ...shape, curves: { ...shape.curves, points } } : shape),
  },
  curves: {
    of: ({ curves }) => curves?.curves,
    put: (shape, own) => (shape.curves ? { ...shape, curves: { ...shape.curves, curves: own } } : shape),
  },
  voxels: {
    of: ({ volume }) => volume?.voxels,
    put: (shape, voxels) => (shape.volume ? { ...shape, volume: { ...shape.volume, voxels } } : shape),
  },
};

/** Every stored domain of a shape, empty ones included; not those of its sources. */
export function* domainsOf(shape: Shape): Generator<readonly [DomainName, Domain]> {
  for (const name of DOMAIN_NAMES) {
    const domain = DOMAINS[name].of(shape);
    if (domain) yield [name, domain];
  }
}

/** What has places of its own; where nobody says otherwise, a shape's elements are the first of these that it has. */
export const PLACED = ["sites", "points", "curve points"] as const;

/** The domain of a shape's elements when nobody says which: sites, else the points of its mesh, else of its curves. */
export const placedName = (shape: Shape): (typeof PLACED)[number] | undefined =>
  PLACED.find((name) => (DOMAINS[name].of(shape)?.count ?? 0) > 0);

/** Those elements. */
export function placesOf(shape: Shape): Domain | undefined {
  const name = placedName(shape);
  return name && DOMAINS[name].of(shape);
}

/** The arrays that say which elements belong together. */
function* indicesOf({ mesh, curves, volume }: Shape): Generator<Int32Array> {
  if (mesh) {
    yield mesh.cornerPoint;
    yield mesh.faceStarts;
  }
  if (curves) yield curves.curveStarts;
  if (volume) yield volume.table;
}

/** Every array that a shape consists of, its sources included; shared ones may come several times. */
export function* arraysOf(shape: Shape): Generator<Lane> {
  for (const [, domain] of domainsOf(shape)) yield* lanesIn(domain);
  yield* indicesOf(shape);
  for (const source of shape.sources ?? []) yield* arraysOf(source);
}

/** The shape with every column and every index array of it and its sources given another. */
export function mapShape(
  shape: Shape,
  column: (from: Column) => Column,
  indices: (from: Int32Array) => Int32Array,
): Shape {
  let made: Shape = {
    ...shape,
    ...(shape.mesh && {
      mesh: {
        ...shape.mesh,
        cornerPoint: indices(shape.mesh.cornerPoint),
        faceStarts: indices(shape.mesh.faceStarts),
      },
    }),
    ...(shape.curves && { curves: { ...shape.curves, curveStarts: indices(shape.curves.curveStarts) } }),
    ...(shape.volume && { volume: { ...shape.volume, table: indices(shape.volume.table) } }),
    ...(shape.sources && { sources: shape.sources.map((source) => mapShape(source, column, indices)) }),
  };
  for (const [name, { count, columns }] of domainsOf(shape)) {
    const mapped = Object.fromEntries(Object.entries(columns).map(([key, from]) => [key, column(from)]));
    made = DOMAINS[name].put(made, { count, columns: mapped });
  }
  return made;
}
