/**
 * How the faces of a mesh hang together, apart from where its points are. It is known by the very arrays that say so, so all
 * shapes with the same faces share one, and each table is made when it is first asked for.
 */
import { tick } from "../cancelling";
import { type Domain, gather } from "./column";
import { EdgeTable } from "./edge-table";
import type { Mesh } from "./mesh";

/** Which elements of another domain belong to each element: those of i are items[starts[i]] … items[starts[i + 1] − 1]. */
export interface Incidence {
  readonly starts: Int32Array;
  readonly items: Int32Array;
}

/** Every edge once, in the order in which the faces meet them. */
export interface Edges {
  readonly count: number;
  /** Two corners an edge, of the face that meets it first, in its order. */
  readonly corners: Int32Array;
  /** The edge from each corner to the next one of its face. */
  readonly ofCorner: Int32Array;
}

export class Topology {
  private readonly made: {
    edges?: Edges;
    faceOfCorner?: Int32Array;
    cornersOfPoints?: Incidence;
    cornersOfEdges?: Incidence;
    across?: Int32Array;
    pointsOfPoints?: Incidence;
  } = {};

  constructor(
    private readonly cornerPoint: Int32Array,
    private readonly faceStarts: Int32Array,
    private readonly points: number,
  ) {}

  /** Whether it is that of a mesh. */
  isOf({ cornerPoint, faceStarts, points }: Mesh): boolean {
    return cornerPoint === this.cornerPoint && faceStarts === this.faceStarts && points.count === this.points;
  }

  get edges(): Edges {
    return (this.made.edges ??= this.findEdges());
  }

  get faceOfCorner(): Int32Array {
    if (!this.made.faceOfCorner) {
      const face = new Int32Array(this.cornerPoint.length);
      for (let f = 0; f + 1 < this.faceStarts.length; f++) {
        tick();
        face.fill(f, this.faceStarts[f], this.faceStarts[f + 1]);
      }
      this.made.faceOfCorner = face;
    }
    return this.made.faceOfCorner;
  }

  get cornersOfPoints(): Incidence {
    return (this.made.cornersOfPoints ??= grouped(this.cornerPoint, this.points));
  }

  /** The corners from which each edge is walked: one for each face that it borders. */
  get cornersOfEdges(): Incidence {
    return (this.made.cornersOfEdges ??= grouped(this.edges.ofCorner, this.edges.count));
  }

  /**
   * The corner of the other face at the edge from each corner to the next one; −1 where there is no other, more than one, or where it
   * walks the edge the same way.
   */
  get across(): Int32Array {
    return (this.made.across ??= this.findAcross());
  }

  /** The points at the other ends of each point's edges, in no order. */
  get pointsOfPoints(): Incidence {
    return (this.made.pointsOfPoints ??= this.findNeighbours());
  }

  /** Whether a border runs along an edge, or faces meet there that do not go on into each other. */
  isOpen(edge: number): boolean {
    return this.across[this.edges.corners[2 * edge]] < 0;
  }

  /** The two points of an edge, the second one at 1. */
  pointOfEdge(edge: number, end: 0 | 1): number {
    return this.cornerPoint[this.edges.corners[2 * edge + end]];
  }

  /** The corner after one in its face. */
  after(corner: number): number {
    const face = this.faceOfCorner[corner];
    return corner + 1 < this.faceStarts[face + 1] ? corner + 1 : this.faceStarts[face];
  }

  /** The corner before one in its face. */
  before(corner: number): number {
    const face = this.faceOfCorner[corner];
    return corner > this.faceStarts[face] ? corner - 1 : this.faceStarts[face + 1] - 1;
  }

  private findAcross(): Int32Array {
    const { starts, items } = this.cornersOfEdges;
    const across = new Int32Array(this.cornerPoint.length).fill(-1);
    for (let e = 0; e + 1 < starts.length; e++) {
      tick();
      if (starts[e + 1] - starts[e] !== 2) continue;
      const [a, b] = [items[starts[e]], items[starts[e] + 1]];
      if (this.cornerPoint[a] === this.cornerPoint[b]) continue;
      across[a] = b;
      across[b] = a;
    }
    return across;
  }

  private findNeighbours(): Incidence {
    const { count } = this.edges;
    const ends = new Int32Array(count * 2);
    for (let e = 0; e < count; e++) {
      tick();
      ends[2 * e] = this.pointOfEdge(e, 0);
      ends[2 * e + 1] = this.pointOfEdge(e, 1);
    }
    const { starts, items } = grouped(ends, this.points);
    for (let k = 0; k < items.length; k++) items[k] = ends[items[k] ^ 1];
    return { starts, items };
  }

  private findEdges(): Edges {
    const { cornerPoint, faceStarts } = this;
    const known = new EdgeTable(cornerPoint.length);
    const ofCorner = new Int32Array(cornerPoint.length);
    const corners = new Int32Array(cornerPoint.length * 2);
    let count = 0;
    for (let f = 0; f + 1 < faceStarts.length; f++) {
      tick(8);
      const end = faceStarts[f + 1];
      let before = end - 1;
      for (let c = faceStarts[f]; c < end; c++) {
        const found = known.keep(cornerPoint[before], cornerPoint[c], count);
        ofCorner[before] = found < 0 ? count : found;
        if (found < 0) {
          corners[2 * count] = before;
          corners[2 * count + 1] = c;
          count++;
        }
        before = c;
      }
    }
    return { count, corners: corners.slice(0, 2 * count), ofCorner };
  }
}

/** Numbers 0 … `groups` − 1 turned into the places where each stands, ascending. */
function grouped(groupOf: Int32Array, groups: number): Incidence {
  const starts = new Int32Array(groups + 1);
  for (let i = 0; i < groupOf.length; i++) starts[groupOf[i] + 1]++;
  for (let g = 0; g < groups; g++) starts[g + 1] += starts[g];
  const items = new Int32Array(groupOf.length);
  const next = starts.slice();
  for (let i = 0; i < groupOf.length; i++) {
    tick(0.5);
    items[next[groupOf[i]]++] = i;
  }
  return { starts, items };
}

/**
 * What edges carry, for a mesh whose faces were made of those of another one.
 * @param from for each of its corners the one that it was
 */
export function edgesCarried(before: Mesh, mesh: Mesh, from: Int32Array): Domain | undefined {
  if (!before.edges) return undefined;
  const old = topologyOf(before);
  const { corners, count } = topologyOf(mesh).edges;
  const was = new Int32Array(count);
  for (let e = 0; e < count; e++) {
    tick();
    const [a, b] = [from[corners[2 * e]], from[corners[2 * e + 1]]];
    // In a face that was turned round the edge is walked from its other end.
    const isTurned = old.after(b) === a && old.after(a) !== b;
    was[e] = old.edges.ofCorner[isTurned ? b : a];
  }
  return gather(before.edges, was);
}

const known = new WeakMap<Int32Array, Topology>();

export function topologyOf(mesh: Mesh): Topology {
  const found = known.get(mesh.cornerPoint);
  if (found?.isOf(mesh)) return found;
  const made = new Topology(mesh.cornerPoint, mesh.faceStarts, mesh.points.count);
  known.set(mesh.cornerPoint, made);
  return made;
}
