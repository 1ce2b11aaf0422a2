/**
 * Values from one domain of a shape to another: what an element gets is made of those of the elements that it belongs together
 * with, by a stated rule.
 */
import { tick } from "../cancelling";
import { addTurn, unitRotation } from "../maths/quaternion";
import { type Column, countUp, type Domain, LANES, type Lane, makeColumn, makeLanes } from "./column";
import type { Curves } from "./curves";
import { DOMAINS, type DomainName } from "./domains";
import type { Mesh } from "./mesh";
import { faceNormals, pointNormals } from "./normals";
import { premultiplied, straighten } from "./premultiplied";
import type { Shape } from "./shape";
import { type Incidence, type Topology, topologyOf } from "./topology";
import { voxelPlaces } from "./volume";

/** First: of the one with the least number. Whole numbers have no mean; they take the first. */
export const RULES = ["mean", "first", "greatest", "least"] as const;
export type Rule = (typeof RULES)[number];

/** Where values of a domain come from when it has none of its own, the nearest kin first. */
const KIN: Readonly<Record<DomainName, readonly DomainName[]>> = {
  sites: [],
  points: ["corners", "faces", "edges"],
  corners: ["points", "faces", "edges"],
  edges: ["points", "faces", "corners"],
  faces: ["points", "corners", "edges"],
  "curve points": ["curves"],
  curves: ["curve points"],
  voxels: [],
};

/** Whether values can go from one to the other: they are domains of one part. */
export const areKin = (from: DomainName, to: DomainName): boolean => KIN[to].includes(from);

/** How many elements a domain has in a shape, also where nothing is stored for it; 0 when the shape has no such part. */
export function countOf(shape: Shape, name: DomainName): number {
  if (name === "edges" && shape.mesh) return topologyOf(shape.mesh).edges.count;
  return DOMAINS[name].of(shape)?.count ?? 0;
}

/** The domain as it is stored, or one without columns. */
const storedIn = (shape: Shape, name: DomainName): Domain =>
  DOMAINS[name].of(shape) ?? { count: countOf(shape, name), columns: {} };

/**
 * For each element of `to` those of `from` that belong together with it, ascending.
 * @throws Error when the two are not domains of one part of the shape
 */
export function incidence(shape: Shape, from: DomainName, to: DomainName): Incidence {
  if (shape.curves && to === "curves") return ofCurves(shape.curves);
  if (shape.curves && to === "curve points") return oneEach(curveOfPoints(shape.curves));
  if (!shape.mesh || !areKin(from, to)) throw new Error(`Values do not go from ${from} to ${to}.`);
  const { mesh } = shape;
  const topology = topologyOf(mesh);
  const corners = cornersOf(mesh, topology, to);
  return from === "corners" ? corners : through(corners, elementsOfCorners(mesh, topology, from));
}

const curveOfPoints = ({ points, curveStarts }: Curves): Int32Array => {
  const curve = new Int32Array(points.count);
  for (let k = 0; k + 1 < curveStarts.length; k++) curve.fill(k, curveStarts[k], curveStarts[k + 1]);
  return curve;
};

const ofCurves = ({ points, curveStarts }: Curves): Incidence => ({
  starts: curveStarts,
  items: countUp(points.count),
});

/** Exactly one each. */
const oneEach = (items: Int32Array): Incidence => ({ starts: countUp(items.length + 1), items });

/** The corners that belong to each element; to an edge those at both of its ends, in every face that it borders. */
function cornersOf(mesh: Mesh, topology: Topology, to: DomainName): Incidence {
  if (to === "points") return topology.cornersOfPoints;
  if (to === "faces") return { starts: mesh.faceStarts, items: countUp(mesh.corners.count) };
  if (to === "corners") return oneEach(countUp(mesh.corners.count));
  const { starts, items } = topology.cornersOfEdges;
  const both = new Int32Array(items.length * 2);
  for (let k = 0; k < items.length; k++) {
    tick(0.5);
    both[2 * k] = items[k];
    both[2 * k + 1] = topology.after(items[k]);
  }
  return { starts: starts.map((start) => start * 2), items: both };
}

/** The element of another domain that each corner belongs to, by corner; of edges the two that meet there. */
function elementsOfCorners(mesh: Mesh, topology: Topology, from: DomainName): readonly Int32Array[] {
  if (from === "points") return [mesh.cornerPoint];
  if (from === "faces") return [topology.faceOfCorner];
  const { ofCorner } = topology.edges;
  const before = new Int32Array(ofCorner.length);
  for (let c = 0; c < before.length; c++) {
    tick(0.5);
    before[topology.after(c)] = ofCorner[c];
  }
  return [ofCorner, before];
}

/** The elements that the corners of each belong to, each once, ascending. */
function through(corners: Incidence, elements: readonly Int32Array[]): Incidence {
  const starts = new Int32Array(corners.starts.length);
  const items = new Int32Array(corners.items.length * elements.length);
  let end = 0;
  for (let i = 0; i + 1 < starts.length; i++) {
    tick(2);
    const start = end;
    for (let k = corners.starts[i]; k < corners.starts[i + 1]; k++)
      for (const of of elements) end = inserted(items, start, end, of[corners.items[k]]);
    starts[i + 1] = end;
  }
  return { starts, items: items.slice(0, end) };
}

/** What elements of a mesh have in common when they lie beside each other. */
const SHARED = { points: "edges", edges: "points", faces: "edges" } as const;
export type Joined = keyof typeof SHARED;

export const isJoined = (name: DomainName): name is Joined => Object.hasOwn(SHARED, name);

/** For each element itself and those beside it, ascending: points along an edge, edges at a point, faces over an edge. */
export function besides(mesh: Mesh, name: Joined): Incidence {
  const shared = incidence({ mesh }, SHARED[name], name);
  const having = incidence({ mesh }, name, SHARED[name]);
  const starts = new Int32Array(shared.starts.length);
  const items: number[] = [];
  for (let i = 0; i + 1 < starts.length; i++) {
    const own = new Set([i]);
    for (let k = shared.starts[i]; k < shared.starts[i + 1]; k++) {
      const via = shared.items[k];
      tick(having.starts[via + 1] - having.starts[via]);
      for (let h = having.starts[via]; h < having.starts[via + 1]; h++) own.add(having.items[h]);
    }
    for (const item of [...own].sort((a, b) => a - b)) items.push(item);
    starts[i + 1] = items.length;
  }
  return { starts, items: Int32Array.from(items) };
}

/** Puts a number among ascending ones at start … end − 1, unless it is there. Returns the new end. */
function inserted(items: Int32Array, start: number, end: number, item: number): number {
  let at = end;
  while (at > start && items[at - 1] > item) at--;
  if (at > start && items[at - 1] === item) return end;
  items.copyWithin(at + 1, at, end);
  items[at] = item;
  return end + 1;
}

/**
 * A column of one domain as one of another. Elements that belong with none get 0 (a rotation: none).
 * @param lanesFor where large lanes are made; the arena of the evaluation unless told otherwise
 */
export function carryAcross(
  column: Column,
  { starts, items }: Incidence,
  rule: Rule,
  lanesFor: typeof makeLanes = makeLanes,
): Column {
  const { kind } = column;
  const count = starts.length - 1;
  const out = lanesFor(kind, count);
  const mean = rule === "mean" && kind !== "integer";
  const from = mean ? premultiplied(column) : column.lanes;
  for (let i = 0; i < count; i++) {
    const [start, end] = [starts[i], starts[i + 1]];
    tick(end - start);
    if (start === end) {
      if (kind === "rotation") out[3][i] = 1;
    } else if (!mean) {
      const chosen = items[chosenOf(column.lanes, items, start, end, rule)];
      for (let l = 0; l < out.length; l++) out[l][i] = column.lanes[l][chosen];
    } else if (kind === "rotation") {
      const sums = [0, 0, 0, 0];
      for (let k = start; k < end; k++) addTurn(sums, from, items[k], items[start]);
      for (let l = 0; l < 4; l++) out[l][i] = sums[l];
      unitRotation(out, i);
    } else
      for (let l = 0; l < out.length; l++) {
        let sum = 0;
        for (let k = start; k < end; k++) sum += from[l][items[k]];
        out[l][i] = sum / (end - start);
      }
  }
  if (mean) straighten(kind, out);
  return makeColumn(kind, out);
}

/** Which of items start … end − 1 the rule takes; what has several numbers is compared by their squares added up. */
function chosenOf(lanes: readonly Lane[], items: Int32Array, start: number, end: number, rule: Rule): number {
  if (rule === "mean" || rule === "first") return start;
  const size = (item: number): number =>
    lanes.length === 1 ? lanes[0][item] : lanes.reduce((sum, lane) => sum + lane[item] * lane[item], 0);
  let best = start;
  for (let k = start + 1; k < end; k++) {
    const [here, there] = [size(items[k]), size(items[best])];
    if (rule === "greatest" ? here > there : here < there) best = k;
  }
  return best;
}

/**
 * A domain in which fields find whatever its elements have: its own columns, and by the mean those of the other domains of the
 * part, besides places (of a face and an edge their middle) and facings as `normal`. What is not its own is worked out when it is asked for, is not
 * listed, and is not kept by `withColumns`.
 */
export function withKin(shape: Shape, name: DomainName): Domain {
  const stored = storedIn(shape, name);
  if (stored.count === 0) return stored;
  const columns: Record<string, Column> = { ...stored.columns };
  const offer = (key: string, make: () => Column) => {
    if (Object.hasOwn(columns, key)) return;
    let made: Column | undefined;
    Object.defineProperty(columns, key, { get: () => (made ??= make()), enumerable: false });
  };
  const { mesh } = shape;
  if (mesh && name === "faces") offer("normal", () => makeColumn("vector", faceNormals(mesh)));
  const { volume } = shape;
  if (volume && name === "voxels") offer("position", () => makeColumn("vector", voxelPlaces(volume)));
  if (mesh && name === "points") offer("normal", () => makeColumn("vector", pointNormals(mesh)));
  // Numbers that tell elements apart mean nothing on others.
  for (const other of KIN[name])
    for (const [key, column] of Object.entries(DOMAINS[other].of(shape)?.columns ?? {}))
      if (key !== "id")
        offer(key, () => carryAcross(column, incidence(shape, other, name), "mean", plainLanes));
  return { count: stored.count, columns };
}

/** Lanes that nobody takes back: such a column is not listed among those of its domain, so the evaluator does not see it. */
const plainLanes: typeof makeLanes = (kind, count) => {
  const Numbers = kind === "integer" ? Int32Array : Float32Array;
  return Array.from({ length: LANES[kind] }, () => new Numbers(count));
};
