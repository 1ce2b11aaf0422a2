/** What is wrong with a shape, in words: for tests, and for nodes under development. Everything else takes shapes to be sound. */
import { type Domain, LANES } from "./column";
import type { Curves } from "./curves";
import { domainsOf } from "./domains";
import type { Mesh } from "./mesh";
import type { Shape } from "./shape";
import { topologyOf } from "./topology";
import { INSIDE, TILE_VOXELS, type Volume } from "./volume";

/** Empty when the shape is sound. @param where its place among others, for messages */
export function validateShape(shape: Shape, where = "shape"): string[] {
  const { mesh, curves, sites, volume, sources } = shape;
  return [
    ...[...domainsOf(shape)].flatMap(([name, domain]) => domainFaults(domain, `${where}.${name}`)),
    ...(mesh ? meshFaults(mesh, where) : []),
    ...(curves ? curveFaults(curves, `${where}.curves`) : []),
    ...(volume ? volumeFaults(volume, `${where}.volume`) : []),
    ...(sites ? siteFaults(sites, sources?.length ?? 0, `${where}.sites`) : []),
    ...(sources ?? []).flatMap((source, i) => validateShape(source, `${where}.sources[${i}]`)),
  ];
}

function domainFaults({ count, columns }: Domain, where: string): string[] {
  if (!Number.isInteger(count) || count < 0) return [`${where} has a count of ${count}.`];
  return Object.entries(columns).flatMap(([name, { kind, lanes }]) => [
    ...(lanes.length === LANES[kind]
      ? []
      : [`${where}.${name} is a ${kind} of ${lanes.length} lanes; ${LANES[kind]} make one.`]),
    ...lanes.flatMap((lane, l) => [
      ...(lane.length === count
        ? []
        : [`${where}.${name}, lane ${l}, has ${lane.length} numbers for ${count} elements.`]),
      ...((kind === "integer") === lane instanceof Int32Array
        ? []
        : [`${where}.${name}, lane ${l}, is ${kind === "integer" ? "not" : "wrongly"} of integers.`]),
    ]),
  ]);
}

/** Edges are only counted where what says how faces hang together is sound. */
function meshFaults(mesh: Mesh, where: string): string[] {
  const faults = indexFaults(mesh, `${where}.mesh`);
  return faults.length > 0 ? faults : edgeFaults(mesh, where);
}

function indexFaults({ points, corners, faces, faceStarts, cornerPoint }: Mesh, where: string): string[] {
  return [
    ...(points.columns.position ? [] : [`${where}.points have no position.`]),
    ...startFaults(faceStarts, faces.count, corners.count, `${where}.faceStarts`),
    ...(cornerPoint.length === corners.count
      ? []
      : [`${where}.cornerPoint has ${cornerPoint.length} numbers for ${corners.count} corners.`]),
    ...rangeFaults(cornerPoint, points.count, `${where}.cornerPoint`),
  ];
}

const edgeFaults = (mesh: Mesh, where: string): string[] => {
  if (!mesh.edges) return [];
  const { count } = topologyOf(mesh).edges;
  return mesh.edges.count === count
    ? []
    : [`${where}.edges has ${mesh.edges.count} elements; the faces have ${count} edges.`];
};

function curveFaults({ points, curves, curveStarts }: Curves, where: string): string[] {
  return [
    ...(points.columns.position ? [] : [`${where}.points have no position.`]),
    ...startFaults(curveStarts, curves.count, points.count, `${where}.curveStarts`),
  ];
}

function siteFaults(sites: Domain, sources: number, where: string): string[] {
  const picks = sites.columns.source?.lanes[0];
  return [
    ...(sites.columns.position ? [] : [`${where} have no position.`]),
    ...(picks instanceof Int32Array ? rangeFaults(picks, sources, `${where}.source`, -1) : []),
  ];
}

function volumeFaults({ voxel, first, tiles, table, voxels }: Volume, where: string): string[] {
  const places = tiles[0] * tiles[1] * tiles[2];
  const stored = table.filter((state) => state >= 0);
  const isEachOnce = new Set(stored).size === stored.length && stored.length * TILE_VOXELS === voxels.count;
  return [
    ...(voxel > 0 ? [] : [`${where} has voxels of ${voxel} units.`]),
    ...([...first, ...tiles].every(Number.isInteger) ? [] : [`${where} does not stand on its lattice.`]),
    ...(table.length === places ? [] : [`${where}.table has ${table.length} numbers for ${places} tiles.`]),
    ...rangeFaults(table, voxels.count / TILE_VOXELS, `${where}.table`, INSIDE),
    ...(isEachOnce ? [] : [`${where}.table does not name each of its tiles once.`]),
  ];
}

/** Where parts begin: from 0, ascending, closed by the count of what they own. */
function startFaults(starts: Int32Array, parts: number, owned: number, where: string): string[] {
  // A mesh without faces may do without.
  if (parts === 0 && starts.length <= 1) return [];
  if (starts.length !== parts + 1)
    return [`${where} has ${starts.length} numbers for ${parts} parts; one more is wanted.`];
  if (starts[0] !== 0) return [`${where} begins with ${starts[0]}.`];
  const falling = starts.findIndex((start, i) => i > 0 && start < starts[i - 1]);
  if (falling > 0) return [`${where} falls at ${falling}.`];
  return starts[parts] === owned ? [] : [`${where} ends with ${starts[parts]}, and there are ${owned}.`];
}

function rangeFaults(numbers: Int32Array, below: number, where: string, least = 0): string[] {
  const at = numbers.findIndex((number) => number < least || number >= below);
  return at < 0 ? [] : [`${where} names ${numbers[at]} at ${at}; ${least} … ${below - 1} are there.`];
}
