/**
 * Even triangles: long edges are split, short ones collapsed, others turned so that points have six neighbours each, and points are moved
 * along the surface (M. Botsch and L. Kobbelt, "A remeshing approach to multiresolution modeling", SGP 2004).
 */
import { tick } from "../cancelling";
import { countUp, makeColumn } from "../geometry/column";
import { type Mesh, makeMesh, pointLanes, withPoints } from "../geometry/mesh";
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

function bare(position: Lanes, cornerPoint: Int32Array): Mesh {
  const faceStarts = new Int32Array(cornerPoint.length / 3 + 1);
  for (let t = 0; t < faceStarts.length; t++) faceStarts[t] = 3 * t;
  return makeMesh({ position, cornerPoint, faceStarts });
}

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
  const { cornerPoint } = mesh;
  const { ofCorner } = topology.edges;
  let cuts = 0;
  for (let c = 0; c < ofCorner.length; c++) if (ofEdge[ofCorner[c]] >= 0) cuts++;
  // Each cut of a triangle's edge makes one triangle more.
  const corners = new Int32Array(cornerPoint.length + 3 * cuts);
  let filled = 0;
  for (let t = 0; t < cornerPoint.length; t += 3) {
    tick(3);
    const [ab, bc, ca] = [ofEdge[ofCorner[t]], ofEdge[ofCorner[t + 1]], ofEdge[ofCorner[t + 2]]];
    if (ab < 0 && bc < 0 && ca < 0) {
      for (let k = 0; k < 3; k++) corners[filled++] = cornerPoint[t + k];
      continue;
    }
    const points = [cornerPoint[t], cornerPoint[t + 1], cornerPoint[t + 2]];
    const made = pieces(points, [ab, bc, ca], lanes, places, mesh.points.count);
    corners.set(made, filled);
    filled += made.length;
  }
  const grown = lanes.map((lane, a) => {
    const out = new Float32Array(lane.length + places[a].length);
    out.set(lane);
    out.set(places[a], lane.length);
    return out;
  }) as Lanes;
  return bare(grown, corners);
}

/** A triangle cut at the middles of one or more of its edges, −1 for those that stay whole. */
function pieces(
  points: readonly number[],
  middles: readonly number[],
  lanes: Lanes,
  places: readonly number[][],
  first: number,
): readonly number[] {
  const cut = middles.filter((m) => m >= 0).length;
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
  const into = countUp(mesh.points.count);
  const touched = new Uint8Array(mesh.points.count);
  const lengths = new Float32Array(topology.edges.count);
  const short: number[] = [];
  for (let e = 0; e < lengths.length; e++) {
    const [p, q] = [topology.pointOfEdge(e, 0), topology.pointOfEdge(e, 1)];
    lengths[e] = between(lanes, p, q);
    if (lengths[e] < (SHORT * (wanted[p] + wanted[q])) / 2) short.push(e);
  }
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
    ring.mark(stays, touched);
    ring.mark(goes, touched);
  }
  return withoutGone(lanes, mesh.cornerPoint, into);
}

/** Twice the area of a triangle, along its facing. One is set again and again, as there are too many triangles to make one for each. */
class AreaVector {
  x = 0;
  y = 0;
  z = 0;

  set(
    ax: number,
    ay: number,
    az: number,
    bx: number,
    by: number,
    bz: number,
    cx: number,
    cy: number,
    cz: number,
  ): this {
    const [ux, uy, uz] = [bx - ax, by - ay, bz - az];
    const [vx, vy, vz] = [cx - ax, cy - ay, cz - az];
    this.x = uy * vz - uz * vy;
    this.y = uz * vx - ux * vz;
    this.z = ux * vy - uy * vx;
    return this;
  }

  setTo([x, y, z]: Lanes, a: number, b: number, c: number): this {
    return this.set(x[a], y[a], z[a], x[b], y[b], z[b], x[c], y[c], z[c]);
  }

  add(other: AreaVector): void {
    this.x += other.x;
    this.y += other.y;
    this.z += other.z;
  }

  along(other: AreaVector): number {
    return this.x * other.x + this.y * other.y + this.z * other.z;
  }
}

/** What lies around points while others are taken in. */
class Ring {
  private readonly seen: Int32Array;
  private round = 0;
  private readonly before = new AreaVector();
  private readonly after = new AreaVector();

  constructor(
    private readonly mesh: Mesh,
    private readonly topology: Topology,
    private readonly lanes: Lanes,
  ) {
    this.seen = new Int32Array(mesh.points.count);
  }

  /** A point and those beside it. */
  mark(p: number, marks: Uint8Array): void {
    const { starts, items } = this.topology.pointsOfPoints;
    marks[p] = 1;
    for (let k = starts[p]; k < starts[p + 1]; k++) marks[items[k]] = 1;
  }

  /**
   * Whether nothing folds: the two have no neighbours in common but those across their edge, no edge becomes too long, and no triangle
   * looks another way.
   */
  canCollapse(edge: number, stays: number, goes: number, place: readonly number[], most: number): boolean {
    const { starts, items } = this.topology.pointsOfPoints;
    const [x, y, z] = this.lanes;
    this.round++;
    for (let k = starts[stays]; k < starts[stays + 1]; k++) this.seen[items[k]] = this.round;
    let common = 0;
    let longest = 0;
    for (let k = starts[goes]; k < starts[goes + 1]; k++) {
      const q = items[k];
      if (this.seen[q] === this.round) common++;
      if (q !== stays)
        longest = Math.max(longest, lengthOf(x[q] - place[0], y[q] - place[1], z[q] - place[2]));
    }
    const faces = this.topology.cornersOfEdges.starts[edge + 1] - this.topology.cornersOfEdges.starts[edge];
    return (
      common === faces &&
      longest <= most &&
      this.keepsFacings(goes, stays, place) &&
      this.keepsFacings(stays, goes, place)
    );
  }

  private keepsFacings(p: number, other: number, [px, py, pz]: readonly number[]): boolean {
    const { starts, items } = this.topology.cornersOfPoints;
    const { cornerPoint } = this.mesh;
    const [x, y, z] = this.lanes;
    for (let k = starts[p]; k < starts[p + 1]; k++) {
      // Its own corner first: the facing is the same from whichever a triangle begins.
      const own = items[k];
      const first = own - (own % 3);
      const [b, c] = [
        cornerPoint[first + ((own + 1 - first) % 3)],
        cornerPoint[first + ((own + 2 - first) % 3)],
      ];
      if (b === other || c === other) continue;
      this.before.setTo(this.lanes, p, b, c);
      this.after.set(px, py, pz, x[b], y[b], z[b], x[c], y[c], z[c]);
      if (this.before.along(this.after) <= 0) return false;
    }
    return true;
  }
}

function withoutGone(lanes: Lanes, corners: Int32Array, into: Int32Array): Mesh {
  const numbers = new Int32Array(into.length).fill(-1);
  const kept = new Int32Array(corners.length);
  const points = new Int32Array(into.length);
  let [corner, count] = [0, 0];
  for (let t = 0; t < corners.length; t += 3) {
    const [a, b, c] = [into[corners[t]], into[corners[t + 1]], into[corners[t + 2]]];
    if (a === b || b === c || c === a) continue;
    for (let k = 0; k < 3; k++) {
      const p = into[corners[t + k]];
      if (numbers[p] < 0) {
        numbers[p] = count;
        points[count++] = p;
      }
      kept[corner++] = numbers[p];
    }
  }
  const left = lanes.map((lane) => {
    const out = new Float32Array(count);
    for (let i = 0; i < count; i++) out[i] = lane[points[i]];
    return out;
  });
  return bare(left as Lanes, kept.slice(0, corner));
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
  const [before, part] = [new AreaVector(), new AreaVector()];
  for (let e = 0; e < topology.edges.count; e++) {
    tick(4);
    if (hard.edges[e]) continue;
    const c = topology.edges.corners[2 * e];
    const d = topology.across[c];
    const [a, b] = [mesh.cornerPoint[c], mesh.cornerPoint[d]];
    const [up, down] = [topology.before(c), topology.before(d)];
    const [p, q] = [mesh.cornerPoint[up], mesh.cornerPoint[down]];
    if (touched[a] || touched[b] || touched[p] || touched[q]) continue;
    // What the squares of the four add up to changes by this, if the two lose a neighbour and the other two get one.
    if (4 - 2 * (left[a] + left[b] - left[p] - left[q]) >= 0) continue;
    if (items.subarray(starts[p], starts[p + 1]).includes(q)) continue;
    before.setTo(lanes, a, b, p).add(part.setTo(lanes, b, a, q));
    if (part.setTo(lanes, p, a, q).along(before) <= 0 || part.setTo(lanes, q, b, p).along(before) <= 0)
      continue;
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
  const [x, y, z] = lanes;
  const [nx, ny, nz] = pointNormals(mesh);
  const { starts, items } = topology.pointsOfPoints;
  const moved = lanes.map((lane) => Float32Array.from(lane)) as Lanes;
  for (let p = 0; p < mesh.points.count; p++) {
    const count = starts[p + 1] - starts[p];
    tick(count);
    if (hard.points[p] > 0 || count === 0) continue;
    let [sx, sy, sz] = [0, 0, 0];
    for (let k = starts[p]; k < starts[p + 1]; k++) {
      sx += x[items[k]];
      sy += y[items[k]];
      sz += z[items[k]];
    }
    const [wx, wy, wz] = [sx / count - x[p], sy / count - y[p], sz / count - z[p]];
    const out = wx * nx[p] + wy * ny[p] + wz * nz[p];
    moved[0][p] += wx - nx[p] * out;
    moved[1][p] += wy - ny[p] * out;
    moved[2][p] += wz - nz[p] * out;
  }
  const back = onto(moved);
  for (let p = 0; p < mesh.points.count; p++)
    if (hard.points[p] > 0) for (let a = 0; a < 3; a++) back[a][p] = lanes[a][p];
  return withPoints(mesh, { count: mesh.points.count, columns: { position: makeColumn("vector", back) } });
}
