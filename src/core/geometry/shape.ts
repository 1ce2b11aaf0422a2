/**
 * The value that flows through the graph. Immutable; every part may be missing.
 *
 * Sites have the columns `position`, `rotation` (x y z w), `scale`, `id`, usually `along` (0…1 in order), and
 * optionally `color` and `source`: an index into `sources`, −1 for a bare site. A source may hold sites of
 * its own (arrays of arrays); it is flattened only when drawn or exported. Sources without any sites are a set
 * to pick from, as the parts of a file are; "Clone onto sites" takes each of them as a shape of its own.
 */
import { tick } from "../cancelling";
import type { Quaternion } from "../maths/quaternion";
import {
  type Column,
  type Domain,
  defaultOf,
  makeColumn,
  makeFloats,
  makeIntegers,
  makeLanes,
} from "./column";
import type { Curves } from "./curves";
import type { Mesh } from "./mesh";
import type { Volume } from "./volume";

export interface Shape {
  readonly mesh?: Mesh;
  readonly curves?: Curves;
  readonly sites?: Domain;
  readonly volume?: Volume;
  readonly sources?: readonly Shape[];
}

export const EMPTY_SHAPE: Shape = {};

/** True when there is something to draw or change: a mesh, curves, sites or a volume. */
export const isFilled = ({ mesh, curves, sites, volume }: Shape): boolean =>
  mesh !== undefined || curves !== undefined || sites !== undefined || volume !== undefined;

export interface SiteLanes {
  position: [Float32Array, Float32Array, Float32Array];
  rotation: [Float32Array, Float32Array, Float32Array, Float32Array];
  along: Float32Array;
}

/**
 * Sites from a writer that fills position, rotation and `along` in place. Rotation starts as the identity,
 * `along` as i ÷ (count − 1), scale is 1 and ids count from 0.
 */
export function makeSites(count: number, write: (lanes: SiteLanes) => void): Domain {
  const position = makeLanes("vector", count) as SiteLanes["position"];
  const rotation = makeLanes("rotation", count) as SiteLanes["rotation"];
  // One lane for all axes, so that the size of even clones is worked out once.
  const size = makeFloats(count).fill(1);
  const id = makeIntegers(count);
  const along = makeFloats(count);
  rotation[3].fill(1);
  const last = Math.max(1, count - 1);
  for (let i = 0; i < count; i++) {
    tick();
    id[i] = i;
    along[i] = i / last;
  }
  write({ position, rotation, along });
  return {
    count,
    columns: {
      position: makeColumn("vector", position),
      rotation: makeColumn("rotation", rotation),
      scale: makeColumn("vector", [size, size, size]),
      id: makeColumn("integer", [id]),
      along: makeColumn("number", [along]),
    },
  };
}

/** The named column's lanes, or undefined lanes' default value when the domain lacks it. */
export function lanesOf(
  domain: Domain,
  name: string,
  kind: Column["kind"],
): { lanes: readonly Float32Array[] | undefined; fallback: readonly number[] } {
  const column = domain.columns[name];
  return {
    lanes: column && column.kind === kind ? (column.lanes as readonly Float32Array[]) : undefined,
    fallback: defaultOf(name, kind),
  };
}

/** Reads a domain's rotations one by one; unturned where it has none. */
export function rotationsOf(domain: Domain): (i: number) => Quaternion {
  const { lanes, fallback } = lanesOf(domain, "rotation", "rotation");
  const at = (l: number, i: number) => lanes?.[l][i] ?? fallback[l];
  return (i) => [at(0, i), at(1, i), at(2, i), at(3, i)];
}

/** Elements a designer would count: sites if there are any, else faces. */
export interface Tally {
  sites: number;
  points: number;
  faces: number;
}

/** Sites and points of several shapes together, each `times` over: what a node that copies them would make. */
export const timesTally = (shapes: readonly Shape[], times: number): { sites: number; points: number } => {
  const tallies = shapes.map(tallyOf);
  return {
    sites: tallies.reduce((sum, t) => sum + t.sites, 0) * times,
    points: tallies.reduce((sum, t) => sum + t.points, 0) * times,
  };
};

export const tallyOf = (shape: Shape): Tally => ({
  sites: shape.sites?.count ?? 0,
  points: (shape.mesh?.points.count ?? 0) + (shape.curves?.points.count ?? 0),
  faces: shape.mesh?.faces.count ?? 0,
});
