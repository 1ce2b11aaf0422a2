/**
 * Even triangles: long edges are split, short ones collapsed, others turned so that points have six neighbours each, and points are moved
 * along the surface (M. Botsch and L. Kobbelt, "A remeshing approach to multiresolution modeling", SGP 2004).
 */
import { tick } from "../cancelling";
import { type Mesh, makeMesh, pointLanes } from "../geometry/mesh";
import { pointNormals } from "../geometry/normals";
import { type Topology, topologyOf } from "../geometry/topology";
import { lengthOf } from "../maths/exact";
import { edgeAngles } from "./edge-angles";

/** Edges outside of these, times the wanted length, are split and collapsed. */
const [LONG, SHORT] = [4 / 3, 4 / 5];

/** Times that long edges are split in one round: each halves them. */
const SPLITS = 12;

type Lanes = [Float32Array, Float32Array, Float32Array];

export interface Remeshing {
  readonly rounds: number;
  /** Wanted lengths at places, units. */
  readonly lengths: (lanes: Lanes) => ArrayLike<number>;
  /** Places brought back to the surface. */
  readonly onto: (lanes: Lanes) => Lanes;
  /** Edges that bend by more stay, as borders do. Radians. */
  readonly sharp: number;
}

/** @param mesh triangles only. What it carries is left out. */
export function remeshed(mesh: Mesh, { rounds, lengths, onto, sharp }: Remeshing): Mesh {
  let made = bare(pointLanes(mesh).map((lane) => Float32Array.from(lane)) as Lanes, mesh.cornerPoint);
  for (let round = 0; round < rounds; round++) {
    for (let i = 0; i < SPLITS; i++) {
      const finer = longSplit(made, lengths(placesOf(made)));
      if (!finer) break;
      made = finer;
    }
    made = shortCollapsed(made, lengths(placesOf(made)), sharp);
    made = turned(made, sharp);
    made = relaxed(made, sharp, onto);
  }
  return made;
}

const placesOf = (mesh: Mesh): Lanes => pointLanes(mesh) as Lanes;

const bare = (position: Lanes, cornerPoint: Int32Array): Mesh =>
  makeMesh({
    position,
    cornerPoint,
    faceStarts: Int32Array.from({ length: cornerPoint.length / 3 + 1 }, (_, t) => 3 * t),
  });

const between = (lanes: Lanes, p: number, q: number): number =>
  lengthOf(lanes[0][p] - lanes[0][q], lanes[1][p] - lanes[1][q], lanes[2][p] - lanes[2][q]);

/** Null when there is nothing to split. */
function longSplit(mesh: Mesh, wanted: ArrayLike<number>): Mesh | null {
  const topology = topologyOf(mesh);
  const lanes = placesOf(mesh);
  const ofEdge = new Int32Array(topology.edges.count).fill(-1);
  const places: [number[], number[], number[]] = [[], [], []];
  for (let e = 0; e < ofEdge.length; e++) {
    tick();
    const [p, q] = [topology.pointOfEdge(e, 0), topology.pointOfEdge(e, 1)];
    if (between(lanes, p, q) <= (LONG * (wanted[p] + wanted[q])) / 2) continue;
    ofEdge[e] = mesh.points.count + places[0].length;
    for (let a = 0; a < 3; a++) places[a].push((lanes[a][p] + lanes[a][q]) / 2);
  }
  if (places[0].length === 0) return null;
  const corners: number[] = [];
  for (let t = 0; t < mesh.cornerPoint.length; t += 3) {
    tick(3);
    const points = [0, 1, 2].map((k) => mesh.cornerPoint[t + k]);
    const middles = [0, 1, 2].map((k) => ofEdge[topology.edges.ofCorner[t + k]]);
    corners.push(...pieces(points, middles, lanes, places, mesh.points.count));
  }
  const grown = lanes.map((lane, a) => {
    const out = new Float32Array(lane.length + places[a].length);
    out.set(lane);
    out.set(places[a], lane.length);
    return out;
  }) as Lanes;
  return bare(grown, Int32Array.from(corners));
}

/** A triangle cut at the middles of some of its edges, −1 for those that stay whole. */
function pieces(
  points: readonly number[],
  middles: readonly number[],
  lanes: Lanes,
  places: readonly number[][],
  first: number,
): readonly number[] {
  const cut = middles.filter((m) => m >= 0).length;
  if (cut === 0) return points;
  // Turned so that what is cut comes first, and what stays last.
  const k = cut === 1 ? middles.findIndex((m) => m >= 0) : cut === 2 ? (middles.indexOf(-1) + 1) % 3 : 0;
  const [a, b, c] = [points[k], points[(k + 1) % 3], points[(k + 2) % 3]];
  const [ab, bc, ca] = [middles[k], middles[(k + 1) % 3], middles[(k + 2) % 3]];
  if (cut === 1) return [a, ab, c, ab, b, c];
  if (cut === 3) return [a, ab, ca, ab, b, bc, ca, bc, c, ab, bc, ca];
  const at = (p: number, axis: number) => (p < first ? lanes[axis][p] : places[axis][p - first]);
  const away = (p: number, q: number) =>
    lengthOf(at(p, 0) - at(q, 0), at(p, 1) - at(q, 1), at(p, 2) - at(q, 2));
  // The corner between both cuts, and what is left by its shorter diagonal.
  return away(a, bc) < away(ab, c) ? [ab, b, bc, a, ab, bc, a, bc, c] : [ab, b, bc, a, ab, c, ab, bc, c];
}

/** Edges that stay where they are, and the points on them. */
function hardEdges(mesh: Mesh, topology: Topology, sharp: number) {
  const angles = sharp < Math.PI ? edgeAngles(mesh) : null;
  const edges = new Uint8Array(topology.edges.count);
  const points = new Uint8Array(mesh.points.count);
  for (let e = 0; e < edges.length; e++) {
    if (!topology.isOpen(e) && !(angles && Math.abs(angles[e]) > sharp)) continue;
    edges[e] = 1;
    for (const end of [0, 1] as const) points[topology.pointOfEdge(e, end)]++;
  }
  return { edges, points };
}

function shortCollapsed(mesh: Mesh, wanted: ArrayLike<number>, sharp: number): Mesh {
  const topology = topologyOf(mesh);
  const lanes = placesOf(mesh).map((lane) => Float32Array.from(lane)) as Lanes;
  const hard = hardEdges(mesh, topology, sharp);
  const into = Int32Array.from({ length: mesh.points.count }, (_, p) => p);
  const touched = new Uint8Array(mesh.points.count);
  const lengths = Float32Array.from({ length: topology.edges.count }, (_, e) =>
    between(lanes, topology.pointOfEdge(e, 0), topology.pointOfEdge(e, 1)),
  );
  const short = Array.from(lengths.keys()).filter((e) => {
    const [p, q] = [topology.pointOfEdge(e, 0), topology.pointOfEdge(e, 1)];
    return lengths[e] < (SHORT * (wanted[p] + wanted[q])) / 2;
  });
  short.sort((a, b) => lengths[a] - lengths[b] || a - b);
  const ring = new Ring(mesh, topology, lanes);
  for (const e of short) {
    const [p, q] = [topology.pointOfEdge(e, 0), topology.pointOfEdge(e, 1)];
    tick(16);
    if (touched[p] || touched[q]) continue;
    // Points that stay take the others in; two of them only along what stays, unless three such edges meet.
    const [isFixed, isOther] = [hard.points[p] > 0, hard.points[q] > 0];
    if (isFixed && isOther && !(hard.edges[e] && (hard.points[p] === 2 || hard.points[q] === 2))) continue;
    const keepsFirst = isFixed && (!isOther || hard.points[p] !== 2);
    const [stays, goes] = keepsFirst || !isOther ? [p, q] : [q, p];
    const place = [0, 1, 2].map((a) =>
      isFixed || isOther ? lanes[a][stays] : (lanes[a][p] + lanes[a][q]) / 2,
    );
    if (!ring.canCollapse(e, stays, goes, place, LONG * Math.max(wanted[p], wanted[q]))) continue;
    for (let a = 0; a < 3; a++) lanes[a][stays] = place[a];
    into[goes] = stays;
    ring.around(stays, (r) => {
      touched[r] = 1;
    });
    ring.around(goes, (r) => {
      touched[r] = 1;
    });
    touched[stays] = 1;
    touched[goes] = 1;
  }
  return withoutGone(lanes, mesh.cornerPoint, into);
}

/** What lies around points while others are taken in. */
class Ring {
  private readonly mark: Int32Array;
  private round = 0;

  constructor(
    private readonly mesh: Mesh,
    private readonly topology: Topology,
    private readonly lanes: Lanes,
  ) {
    this.mark = new Int32Array(mesh.points.count);
  }

  around(p: number, visit: (q: number) => void): void {
    const { starts, items } = this.topology.pointsOfPoints;
    for (let k = starts[p]; k < starts[p + 1]; k++) visit(items[k]);
  }

  /**
   * Whether nothing folds: the two have no neighbours in common but those across their edge, no edge becomes too long, and no triangle
   * looks another way.
   */
  canCollapse(edge: number, stays: number, goes: number, place: readonly number[], most: number): boolean {
    this.round++;
    let common = 0;
    this.around(stays, (q) => {
      this.mark[q] = this.round;
    });
    let longest = 0;
    const reach = (q: number) => {
      longest = Math.max(
        longest,
        lengthOf(...([0, 1, 2].map((a) => this.lanes[a][q] - place[a]) as [number, number, number])),
      );
    };
    this.around(goes, (q) => {
      if (this.mark[q] === this.round) common++;
      if (q !== stays) reach(q);
    });
    const faces = this.topology.cornersOfEdges.starts[edge + 1] - this.topology.cornersOfEdges.starts[edge];
    return (
      common === faces &&
      longest <= most &&
      this.keepsFacings(goes, stays, place) &&
      this.keepsFacings(stays, goes, place)
    );
  }

  private keepsFacings(p: number, other: number, place: readonly number[]): boolean {
    const { starts, items } = this.topology.cornersOfPoints;
    for (let k = starts[p]; k < starts[p + 1]; k++) {
      const c = items[k];
      const t = c - (c % 3);
      const points = [0, 1, 2].map((i) => this.mesh.cornerPoint[t + i]);
      if (points.includes(other)) continue;
      const before = areaOf(points.map((q) => this.at(q)));
      const after = areaOf(points.map((q) => (q === p ? place : this.at(q))));
      if (before[0] * after[0] + before[1] * after[1] + before[2] * after[2] <= 0) return false;
    }
    return true;
  }

  private at(q: number): readonly number[] {
    return [this.lanes[0][q], this.lanes[1][q], this.lanes[2][q]];
  }
}

/** Twice the area of a triangle, along its facing. */
function areaOf([a, b, c]: readonly (readonly number[])[]): readonly number[] {
  const [u, v] = [b.map((x, i) => x - a[i]), c.map((x, i) => x - a[i])];
  return [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
}

function withoutGone(lanes: Lanes, corners: Int32Array, into: Int32Array): Mesh {
  const numbers = new Int32Array(into.length).fill(-1);
  const kept: number[] = [];
  const points: number[] = [];
  for (let t = 0; t < corners.length; t += 3) {
    const [a, b, c] = [into[corners[t]], into[corners[t + 1]], into[corners[t + 2]]];
    if (a === b || b === c || c === a) continue;
    for (const p of [a, b, c]) {
      if (numbers[p] < 0) numbers[p] = points.push(p) - 1;
      kept.push(numbers[p]);
    }
  }
  return bare(lanes.map((lane) => Float32Array.from(points, (p) => lane[p])) as Lanes, Int32Array.from(kept));
}

/** Edges turned over where points then have numbers of neighbours nearer to six, or four on borders. */
function turned(mesh: Mesh, sharp: number): Mesh {
  const topology = topologyOf(mesh);
  const lanes = placesOf(mesh);
  const hard = hardEdges(mesh, topology, sharp);
  const corners = Int32Array.from(mesh.cornerPoint);
  const { starts, items } = topology.pointsOfPoints;
  const left = Int32Array.from(
    { length: mesh.points.count },
    (_, p) => starts[p + 1] - starts[p] - (hard.points[p] > 0 ? 4 : 6),
  );
  const touched = new Uint8Array(mesh.points.count);
  const at = (p: number) => [lanes[0][p], lanes[1][p], lanes[2][p]];
  for (let e = 0; e < topology.edges.count; e++) {
    tick(4);
    if (hard.edges[e]) continue;
    const c = topology.edges.corners[2 * e];
    const d = topology.across[c];
    const [a, b] = [mesh.cornerPoint[c], mesh.cornerPoint[d]];
    const [up, down] = [topology.before(c), topology.before(d)];
    const [p, q] = [mesh.cornerPoint[up], mesh.cornerPoint[down]];
    if (touched[a] || touched[b] || touched[p] || touched[q]) continue;
    const off = (change: number) =>
      (left[a] - change) ** 2 + (left[b] - change) ** 2 + (left[p] + change) ** 2 + (left[q] + change) ** 2;
    if (off(1) >= off(0) || items.subarray(starts[p], starts[p + 1]).includes(q)) continue;
    const [one, two] = [areaOf([at(p), at(a), at(q)]), areaOf([at(q), at(b), at(p)])];
    const before = areaOf([at(a), at(b), at(p)]).map((v, i) => v + areaOf([at(b), at(a), at(q)])[i]);
    const looks = (area: readonly number[]) => area.reduce((sum, v, i) => sum + v * before[i], 0) > 0;
    if (!looks(one) || !looks(two)) continue;
    const [first, second] = [c - (c % 3), d - (d % 3)];
    corners.set([p, a, q], first);
    corners.set([q, b, p], second);
    for (const r of [a, b]) left[r]--;
    for (const r of [p, q]) left[r]++;
    for (const r of [a, b, p, q]) touched[r] = 1;
  }
  return bare(lanes, corners);
}

/** Points moved towards the middle of their neighbours, along the surface and back to it. */
function relaxed(mesh: Mesh, sharp: number, onto: Remeshing["onto"]): Mesh {
  const topology = topologyOf(mesh);
  const hard = hardEdges(mesh, topology, sharp);
  const lanes = placesOf(mesh);
  const normals = pointNormals(mesh);
  const { starts, items } = topology.pointsOfPoints;
  const moved = lanes.map((lane) => Float32Array.from(lane)) as Lanes;
  for (let p = 0; p < mesh.points.count; p++) {
    const count = starts[p + 1] - starts[p];
    tick(count);
    if (hard.points[p] > 0 || count === 0) continue;
    const way = lanes.map((lane) => {
      let sum = 0;
      for (let k = starts[p]; k < starts[p + 1]; k++) sum += lane[items[k]];
      return sum / count - lane[p];
    });
    const out = way.reduce((sum, v, a) => sum + v * normals[a][p], 0);
    for (let a = 0; a < 3; a++) moved[a][p] += way[a] - normals[a][p] * out;
  }
  const back = onto(moved);
  for (let p = 0; p < mesh.points.count; p++)
    if (hard.points[p] > 0) for (let a = 0; a < 3; a++) back[a][p] = lanes[a][p];
  return bare(back, mesh.cornerPoint);
}
