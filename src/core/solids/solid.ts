/** Meshes as solids: what is in and what is out is decided by Manifold (E. Lalish), in WebAssembly. */
import { tick } from "../cancelling";
import {
  type Column,
  type ColumnKind,
  type Columns,
  concatenate,
  gather,
  LANES,
  type Lane,
  makeColumn,
  withColumns,
} from "../geometry/column";
import { type Mesh, makeMesh, pointLanes } from "../geometry/mesh";
import { premultiplied, straighten } from "../geometry/premultiplied";
import { SIDE } from "../geometry/side";
import { topologyOf } from "../geometry/topology";
import { triangleCorners } from "../geometry/triangles";
import { Library } from "../library";
import { unitRotation } from "../maths/quaternion";
import { verticesOf } from "../meshes/vertices";
import type { Manifold, ManifoldModule, Triangles } from "./manifold";

let library: ManifoldModule | null = null;

export const SOLIDS = new Library("geometry of solids", async () => {
  const { load } = await import("./manifold");
  library = await load();
});

/** @throws Error before SOLIDS is loaded */
export function manifold(): ManifoldModule {
  if (!library) throw new Error("Manifold is not loaded.");
  return library;
}

/** Takes a solid into care, and gives it back. */
export type Owning = (solid: Manifold) => Manifold;

/** Work with solids, whose memory nobody takes back by itself: those that it owns are deleted when it ends, however it ends. */
export function withSolids<T>(work: (own: Owning) => T): T {
  const owned: Manifold[] = [];
  try {
    return work((solid) => {
      owned.push(solid);
      return solid;
    });
  } finally {
    for (const solid of owned) solid.delete();
  }
}

/** Why a mesh is no solid, in words for the designer; null when it is closed and hangs together rightly. */
export function faultOf(mesh: Mesh): string | null {
  const topology = topologyOf(mesh);
  const { starts } = topology.cornersOfEdges;
  let [open, many] = [0, 0];
  for (let e = 0; e < topology.edges.count; e++) {
    const faces = starts[e + 1] - starts[e];
    if (faces === 1) open++;
    else if (topology.isOpen(e)) many++;
  }
  if (open > 0)
    return `is open along ${open} edges, so it has no inside. Put "Weld" before it where points only lie together, "Fill holes" where it has holes, "Thicken" where it is a sheet.`;
  if (many > 0)
    return `has ${many} edges where more than two faces meet, or faces that look opposite ways. Put "Weld" before it, or leave the faces out that lie within.`;
  return null;
}

/** The attributes that go through solids with their vertices: of points, then of corners. */
interface Carrying {
  readonly points: readonly Carried[];
  readonly corners: readonly Carried[];
}
interface Carried {
  readonly name: string;
  readonly kind: ColumnKind;
}

const CARRIED_NOT = new Set(["position", "normal"]);

/** What any of the meshes has, the kinds of the first. */
export function carryingOf(meshes: readonly Mesh[]): Carrying {
  const of = (domain: "points" | "corners"): Carried[] => {
    const known = new Map<string, ColumnKind>();
    for (const mesh of meshes)
      for (const [name, { kind }] of Object.entries(mesh[domain].columns))
        if (!CARRIED_NOT.has(name) && !known.has(name)) known.set(name, kind);
    return [...known].map(([name, kind]) => ({ name, kind }));
  };
  // Where points lie on a picture follows from their corners.
  const corners = of("corners");
  return { points: of("points").filter(({ name }) => !corners.some((c) => c.name === name)), corners };
}

/**
 * A closed mesh as a solid. Triangles know their faces by the number `firstFace` + face. To be owned by who asks for it.
 * @throws Error when it is none (see `faultOf`)
 */
export function solidOfMesh(mesh: Mesh, carrying: Carrying, original: number): Manifold {
  const { Mesh: Input, Manifold: Solid } = manifold();
  const triangles = triangleCorners(mesh);
  const { vertices, ofCorner } = verticesOf(mesh);
  const count = vertices.length;
  const ofPoints = [...pointLanes(mesh), ...lanesOf(mesh.points.columns, carrying.points, mesh.points.count)];
  const ofCorners = lanesOf(mesh.corners.columns, carrying.corners, mesh.corners.count);
  const width = ofPoints.length + ofCorners.length;
  const numbers = new Float32Array(count * width);
  const points = taken(mesh.cornerPoint, vertices);
  for (const [l, lane] of ofPoints.entries()) spread(numbers, l, width, lane, points);
  for (const [l, lane] of ofCorners.entries()) spread(numbers, ofPoints.length + l, width, lane, vertices);
  const { faceOfCorner } = topologyOf(mesh);
  const merges = sameVertices(mesh, vertices);
  const input = new Input({
    numProp: width,
    vertProperties: numbers,
    triVerts: new Uint32Array(taken(ofCorner, triangles).buffer),
    mergeFromVert: merges.from,
    mergeToVert: merges.to,
    runIndex: Uint32Array.of(0, triangles.length),
    runOriginalID: Uint32Array.of(original),
    faceID: new Uint32Array(taken(faceOfCorner, triangles, 3).buffer),
  });
  return new Solid(input);
}

/** Entries of a list at places, every so many of those. Loops, as what is made by calls takes several times as long. */
function taken(from: Int32Array, places: ArrayLike<number>, step = 1): Int32Array {
  const out = new Int32Array(Math.floor(places.length / step));
  for (let i = 0; i < out.length; i++) out[i] = from[places[i * step]];
  tick(out.length);
  return out;
}

/** Writes what a lane has at places as number `l` of each `width`. */
function spread(into: Float32Array, l: number, width: number, lane: Lane, places: ArrayLike<number>): void {
  for (let i = 0, to = l; i < places.length; i++, to += width) into[to] = lane[places[i]];
  tick(places.length);
}

/** Each vertex but the first of its point, and that first one. */
function sameVertices(mesh: Mesh, vertices: readonly number[]): { from: Uint32Array; to: Uint32Array } {
  const [from, to]: [number[], number[]] = [[], []];
  const first = new Int32Array(mesh.points.count).fill(-1);
  for (const [v, c] of vertices.entries()) {
    const p = mesh.cornerPoint[c];
    if (first[p] < 0) first[p] = v;
    else {
      from.push(v);
      to.push(first[p]);
    }
  }
  return { from: Uint32Array.from(from), to: Uint32Array.from(to) };
}

/** Numbers that may be mixed, attribute by attribute; 0 where it is missing. */
function lanesOf(columns: Columns, carried: readonly Carried[], count: number): readonly Lane[] {
  return carried.flatMap(({ name, kind }): readonly Lane[] => {
    const column = columns[name];
    if (column?.kind === kind) return premultiplied(column);
    return Array.from({ length: LANES[kind] }, () => new Float32Array(count));
  });
}

/** Where a solid's triangles come from. */
export interface Originals {
  readonly carrying: Carrying;
  /** By the number that was given to `solidOfMesh`. */
  readonly meshes: ReadonlyMap<number, Mesh>;
}

/** Told of each triangle: the number of its original and its face there. */
export interface FromSolid {
  readonly mesh: Mesh;
  readonly originals: Int32Array;
}

/** The mesh with `side` on its faces, by the number of the original that each comes from. */
export function withSides({ mesh, originals }: FromSolid, sideOf: (original: number) => number): Mesh {
  const side = makeColumn("number", [Float32Array.from(originals, sideOf)]);
  return { ...mesh, faces: withColumns(mesh.faces, { [SIDE]: side }) };
}

/** A solid as a mesh of triangles, with what its originals carried; faces of unknown ones have the defaults. */
export function meshOfSolid(solid: Manifold, { carrying, meshes }: Originals): FromSolid {
  const made = solid.getMesh();
  const width = made.numProp;
  const { points, vertexPoint } = pointsOf(made);
  const { vertProperties } = made;
  const lane = (vertices: ArrayLike<number>, at: number) => {
    const out = new Float32Array(vertices.length);
    if (at < width) for (let i = 0; i < out.length; i++) out[i] = vertProperties[vertices[i] * width + at];
    return out;
  };
  const corners = made.triVerts;
  let at = 3;
  const columns = (carried: readonly Carried[], vertices: ArrayLike<number>) =>
    Object.fromEntries(
      carried.map(({ name, kind }) => {
        const lanes = Array.from({ length: LANES[kind] }, () => lane(vertices, at++));
        return [name, columnOf(kind, lanes)];
      }),
    );
  const position = [0, 1, 2].map((a) => lane(points, a)) as [Float32Array, Float32Array, Float32Array];
  const pointColumns = columns(carrying.points, points);
  const cornerColumns = columns(carrying.corners, corners);
  const mesh = makeMesh({
    position,
    faceStarts: Int32Array.from({ length: corners.length / 3 + 1 }, (_, t) => 3 * t),
    cornerPoint: taken(vertexPoint, corners),
    pointColumns,
    cornerColumns,
  });
  const originals = originalsOf(made);
  return {
    mesh: { ...mesh, faces: withColumns(mesh.faces, faceColumns(made, originals, meshes)) },
    originals,
  };
}

/** The vertices that are points of their own, and the point of every vertex. */
function pointsOf({ vertProperties, numProp, mergeFromVert, mergeToVert }: Triangles) {
  const count = vertProperties.length / numProp;
  const into = Int32Array.from({ length: count }, (_, v) => v);
  for (let k = 0; k < mergeFromVert.length; k++) into[mergeFromVert[k]] = mergeToVert[k];
  const points: number[] = [];
  const vertexPoint = new Int32Array(count).fill(-1);
  for (let v = 0; v < count; v++) if (into[v] === v) vertexPoint[v] = points.push(v) - 1;
  for (let v = 0; v < count; v++) {
    let root = v;
    while (into[root] !== root) root = into[root];
    vertexPoint[v] = vertexPoint[root];
  }
  return { points, vertexPoint };
}

function columnOf(kind: ColumnKind, lanes: Float32Array[]): Column {
  if (kind === "integer") return makeColumn(kind, [Int32Array.from(lanes[0], Math.round)]);
  if (kind === "rotation") for (let i = 0; i < lanes[0].length; i++) unitRotation(lanes, i);
  straighten(kind, lanes);
  return makeColumn(kind, lanes);
}

/** The original of every triangle. */
function originalsOf({ triVerts, runIndex, runOriginalID }: Triangles): Int32Array {
  const originals = new Int32Array(triVerts.length / 3);
  for (let r = 0; r < runOriginalID.length; r++)
    originals.fill(runOriginalID[r], runIndex[r] / 3, runIndex[r + 1] / 3);
  return originals;
}

/** What the faces carried that triangles are part of. */
function faceColumns(
  { faceID }: Triangles,
  originals: Int32Array,
  meshes: ReadonlyMap<number, Mesh>,
): Columns {
  const first = new Map<number, number>();
  let end = 0;
  for (const [original, { faces }] of meshes) {
    first.set(original, end);
    end += faces.count;
  }
  // One more, which has the defaults, for triangles of none of them.
  const all = concatenate([...[...meshes.values()].map(({ faces }) => faces), { count: 1, columns: {} }]);
  const from = Int32Array.from(originals, (original, t) => {
    const start = first.get(original);
    return start === undefined ? end : start + faceID[t];
  });
  return gather(all, from).columns;
}
