/**
 * Faces split into smaller ones: E. Catmull and J. Clark, "Recursively generated B-spline surfaces on arbitrary topological meshes",
 * Computer-Aided Design 10 (6), 1978; C. Loop, "Smooth subdivision surfaces based on triangles", University of Utah, 1987. Creases as
 * in H. Hoppe et al., "Piecewise smooth surface reconstruction", SIGGRAPH 1994.
 */
import { tick } from "../cancelling";
import type { Mesh } from "../geometry/mesh";
import { type Mixture, MixtureWriter, WeightSum } from "../geometry/mixture";
import { type Topology, topologyOf } from "../geometry/topology";
import { cosine } from "../maths/exact";
import { edgesBy, type Remaking, remade } from "./remade";

/** Flat: faces are split where they are, into quads. */
export const SCHEMES = ["Catmull–Clark", "Loop", "flat"] as const;
export type Scheme = (typeof SCHEMES)[number];

export interface Splitting {
  readonly scheme: Scheme;
  /** By edge: 0 smooth, 1 sharp, and what is between. */
  readonly sharp: Float32Array;
  /** By face: 1 for those that are split; all when missing. */
  readonly chosen?: Uint8Array;
  /** Whether points of a border that belong to one face stay. */
  readonly keepsTips: boolean;
}

/**
 * One round. `Loop` wants triangles only. Points: those that were there, then of each face one in it (not for `Loop`), then one on each
 * edge. Faces beside split ones get the points on their common edges, so nothing gapes.
 */
export function splitOnce(mesh: Mesh, splitting: Splitting): Remaking {
  const topology = topologyOf(mesh);
  const numbers = numbered(mesh, topology, splitting);
  const faces = splitFaces(mesh, topology, numbers, splitting.scheme);
  const points =
    splitting.scheme === "Loop"
      ? loopPoints(mesh, topology, numbers, splitting)
      : quadPoints(mesh, topology, numbers, splitting);
  const edgeOf = edgeParts(mesh, topology, numbers);
  return { ...faces, points, edges: edgesBy(faces, points.starts.length - 1, edgeOf) };
}

interface Numbers {
  readonly isSplit: (face: number) => boolean;
  /** Numbers of the new points, −1 where there is none. */
  readonly ofFace: Int32Array;
  readonly ofEdge: Int32Array;
  /** Edges that get a point, in the order of those points. */
  readonly edges: Int32Array;
  readonly faces: Int32Array;
}

function numbered(mesh: Mesh, topology: Topology, { scheme, chosen }: Splitting): Numbers {
  const isSplit = (face: number) => chosen === undefined || chosen[face] === 1;
  const ofFace = new Int32Array(mesh.faces.count).fill(-1);
  const ofEdge = new Int32Array(topology.edges.count).fill(-1);
  const [faces, edges]: [number[], number[]] = [[], []];
  let next = mesh.points.count;
  for (let f = 0; scheme !== "Loop" && f < mesh.faces.count; f++) {
    if (!isSplit(f)) continue;
    ofFace[f] = next++;
    faces.push(f);
  }
  for (let f = 0; f < mesh.faces.count; f++) {
    tick();
    if (!isSplit(f)) continue;
    for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++) {
      const edge = topology.edges.ofCorner[c];
      if (ofEdge[edge] >= 0) continue;
      ofEdge[edge] = next++;
      edges.push(edge);
    }
  }
  return { isSplit, ofFace, ofEdge, faces: Int32Array.from(faces), edges: Int32Array.from(edges) };
}

/** The edge that an edge between two new points is half of. */
function edgeParts(mesh: Mesh, topology: Topology, { ofFace, ofEdge, edges }: Numbers) {
  const first = mesh.points.count + ofFace.reduce((sum, p) => sum + (p >= 0 ? 1 : 0), 0);
  const whole = new Map<number, number>();
  if (edges.length < topology.edges.count)
    for (let e = 0; e < topology.edges.count; e++)
      if (ofEdge[e] < 0) whole.set(pairOf(topology.pointOfEdge(e, 0), topology.pointOfEdge(e, 1)), e);
  return (a: number, b: number): number => {
    const [low, high] = a < b ? [a, b] : [b, a];
    if (low >= mesh.points.count) return -1;
    if (high >= first) {
      const edge = edges[high - first];
      return topology.pointOfEdge(edge, 0) === low || topology.pointOfEdge(edge, 1) === low ? edge : -1;
    }
    return whole.get(pairOf(low, high)) ?? -1;
  };
}

const pairOf = (a: number, b: number): number => Math.min(a, b) * 2 ** 26 + Math.max(a, b);

function splitFaces(mesh: Mesh, topology: Topology, numbers: Numbers, scheme: Scheme) {
  const { faceStarts, cornerPoint } = mesh;
  const { ofCorner } = topology.edges;
  const { isSplit, ofFace, ofEdge } = numbers;
  const size = sizeOf(mesh, topology, numbers, scheme);
  const starts = new Int32Array(size.faces + 1);
  const points = new Int32Array(size.corners);
  const from = new Int32Array(size.faces);
  const laid = new MixtureWriter(size.corners);
  let [face, corner] = [0, 0];
  const put = (point: number) => {
    points[corner++] = point;
    laid.next();
  };
  const end = (f: number) => {
    from[face++] = f;
    starts[face] = corner;
  };
  const there = (c: number) => {
    laid.add(c, 1);
    put(cornerPoint[c]);
  };
  const onEdge = (c: number, next: number) => {
    laid.add(c, 0.5);
    laid.add(next, 0.5);
    put(ofEdge[ofCorner[c]]);
  };
  const within = (f: number) => {
    const [first, last] = [faceStarts[f], faceStarts[f + 1]];
    for (let c = first; c < last; c++) laid.add(c, 1 / (last - first));
    put(ofFace[f]);
  };
  for (let f = 0; f < mesh.faces.count; f++) {
    const [first, last] = [faceStarts[f], faceStarts[f + 1] - 1];
    const isWhole = !isSplit(f);
    tick((last - first) * 4);
    for (let c = first; c <= last; c++) {
      const [before, next] = [c > first ? c - 1 : last, c < last ? c + 1 : first];
      there(c);
      if (isWhole) {
        if (ofEdge[ofCorner[c]] >= 0) onEdge(c, next);
        continue;
      }
      onEdge(c, next);
      if (scheme !== "Loop") within(f);
      onEdge(before, c);
      end(f);
    }
    if (isWhole) end(f);
    if (isWhole || scheme !== "Loop") continue;
    for (let c = first; c <= last; c++) onEdge(c, c < last ? c + 1 : first);
    end(f);
  }
  return { faceStarts: starts, cornerPoint: points, faces: from, corners: laid.done() };
}

/** How many faces and corners there will be. */
function sizeOf(
  { faceStarts, faces }: Mesh,
  topology: Topology,
  { isSplit, ofEdge }: Numbers,
  scheme: Scheme,
) {
  const sum = { faces: 0, corners: 0 };
  for (let f = 0; f < faces.count; f++) {
    const size = faceStarts[f + 1] - faceStarts[f];
    const split = scheme === "Loop" ? { faces: 4, corners: 12 } : { faces: size, corners: size * 4 };
    sum.faces += isSplit(f) ? split.faces : 1;
    sum.corners += isSplit(f) ? split.corners : size;
    for (let c = faceStarts[f]; !isSplit(f) && c < faceStarts[f + 1]; c++)
      if (ofEdge[topology.edges.ofCorner[c]] >= 0) sum.corners++;
  }
  return sum;
}

/** What makes points of those that were there: common to both schemes. */
class Points {
  readonly writer: MixtureWriter;
  readonly sum: WeightSum;

  constructor(
    readonly mesh: Mesh,
    readonly topology: Topology,
    readonly numbers: Numbers,
    readonly splitting: Splitting,
  ) {
    this.writer = new MixtureWriter(mesh.points.count + numbers.faces.length + numbers.edges.length);
    this.sum = new WeightSum(mesh.points.count);
  }

  /** How sharp an edge is: borders are, and so is what has faces that stay beside it. */
  sharpness(edge: number): number {
    if (this.splitting.scheme === "flat" || this.topology.isOpen(edge)) return 1;
    return Math.min(1, Math.max(0, this.splitting.sharp[edge]));
  }

  middle(edge: number, weight: number): void {
    for (const end of [0, 1] as const) this.sum.add(this.topology.pointOfEdge(edge, end), weight / 2);
  }

  /** The corners of a face, together so much. */
  face(face: number, weight: number): void {
    const [start, end] = [this.mesh.faceStarts[face], this.mesh.faceStarts[face + 1]];
    for (let c = start; c < end; c++) this.sum.add(this.mesh.cornerPoint[c], weight / (end - start));
  }

  /** The points that were there. @param smooth adds one that lies in the middle of smooth faces */
  old(
    smooth: (point: number, edges: readonly number[], faces: readonly number[], weight: number) => void,
  ): void {
    const { mesh, sum, writer } = this;
    for (let p = 0; p < mesh.points.count; p++) {
      const [faces, edges] = this.around(p);
      tick(faces.length * 4);
      if (this.splitting.scheme === "flat" || faces.length === 0 || !faces.every(this.numbers.isSplit)) {
        writer.same(p);
        continue;
      }
      const left = this.creased(p, faces, edges);
      if (left > 0) smooth(p, edges, faces, left);
      sum.write(writer);
    }
  }

  /** The faces and the edges at a point. */
  private around(p: number): [faces: number[], edges: number[]] {
    const { cornersOfPoints, faceOfCorner, edges: all } = this.topology;
    const [faces, edges]: [number[], number[]] = [[], []];
    for (let k = cornersOfPoints.starts[p]; k < cornersOfPoints.starts[p + 1]; k++) {
      const corner = cornersOfPoints.items[k];
      faces.push(faceOfCorner[corner]);
      for (const edge of [all.ofCorner[corner], all.ofCorner[this.topology.before(corner)]])
        if (!edges.includes(edge)) edges.push(edge);
    }
    return [faces, edges];
  }

  /** Adds what creases make of a point; gives how much of it is left to be smooth. */
  private creased(p: number, faces: readonly number[], edges: readonly number[]): number {
    if (faces.length === 1 && this.splitting.keepsTips) {
      this.sum.add(p, 1);
      return 0;
    }
    const creased = edges.filter((edge) => this.sharpness(edge) > 0);
    // One crease alone ends in the smooth; three make a corner.
    if (creased.length < 2) return 1;
    const hard = creased.reduce((all, edge) => all + this.sharpness(edge), 0) / creased.length;
    this.sum.add(p, creased.length > 2 ? hard : hard / 2);
    if (creased.length === 2) for (const edge of creased) this.middle(edge, hard / 4);
    return 1 - hard;
  }

  /** The points on edges. @param smooth adds one between two smooth faces */
  onEdges(smooth: (edge: number, weight: number) => void): void {
    for (const edge of this.numbers.edges) {
      const hard = this.areSplit(edge) ? this.sharpness(edge) : 1;
      this.middle(edge, hard);
      if (hard < 1) smooth(edge, 1 - hard);
      this.sum.write(this.writer);
    }
  }

  /** The corners of the faces at an edge, each face together so much. */
  facesAt(edge: number, weight: number): void {
    const { cornersOfEdges, faceOfCorner } = this.topology;
    for (let k = cornersOfEdges.starts[edge]; k < cornersOfEdges.starts[edge + 1]; k++)
      this.face(faceOfCorner[cornersOfEdges.items[k]], weight);
  }

  private areSplit(edge: number): boolean {
    const { cornersOfEdges, faceOfCorner } = this.topology;
    for (let k = cornersOfEdges.starts[edge]; k < cornersOfEdges.starts[edge + 1]; k++)
      if (!this.numbers.isSplit(faceOfCorner[cornersOfEdges.items[k]])) return false;
    return true;
  }
}

function quadPoints(mesh: Mesh, topology: Topology, numbers: Numbers, splitting: Splitting): Mixture {
  const made = new Points(mesh, topology, numbers, splitting);
  // (Q + 2R + (n − 3) S) ÷ n, where Q is the mean of the points in faces and R that of the middles of edges.
  made.old((p, edges, faces, weight) => {
    const n = edges.length;
    for (const face of faces) made.face(face, weight / (n * faces.length));
    for (const edge of edges) made.middle(edge, (2 * weight) / (n * n));
    made.sum.add(p, (weight * (n - 3)) / n);
  });
  for (const face of numbers.faces) {
    made.face(face, 1);
    made.sum.write(made.writer);
  }
  made.onEdges((edge, weight) => {
    made.middle(edge, weight / 2);
    made.facesAt(edge, weight / 4);
  });
  return made.writer.done();
}

function loopPoints(mesh: Mesh, topology: Topology, numbers: Numbers, splitting: Splitting): Mixture {
  const made = new Points(mesh, topology, numbers, splitting);
  made.old((p, edges, _faces, weight) => {
    const n = edges.length;
    const beta = loopWeight(n);
    made.sum.add(p, weight * (1 - n * beta));
    for (const edge of edges) {
      const [a, b] = [topology.pointOfEdge(edge, 0), topology.pointOfEdge(edge, 1)];
      made.sum.add(a === p ? b : a, weight * beta);
    }
  });
  // 3/8 of both ends and 1/8 of what is across on either side: a quarter of the ends and three of each face's corners.
  made.onEdges((edge, weight) => {
    made.middle(edge, weight / 4);
    made.facesAt(edge, (3 * weight) / 8);
  });
  return made.writer.done();
}

/** β of Loop's rule for a point with n neighbours. */
export function loopWeight(n: number): number {
  const part = 3 / 8 + cosine((2 * Math.PI) / n) / 4;
  return (5 / 8 - part * part) / n;
}

/** Several rounds, kept apart from where the points are: they hold for any mesh with the same faces. */
export class Subdivision {
  private readonly rounds: readonly Remaking[];

  /** In memory of its own: that of the mesh may be given to others. */
  private readonly of: Pick<Mesh, "cornerPoint" | "faceStarts">;

  constructor(
    mesh: Mesh,
    private readonly splitting: Splitting,
    rounds: number,
  ) {
    this.of = {
      cornerPoint: Int32Array.from(mesh.cornerPoint),
      faceStarts: Int32Array.from(mesh.faceStarts),
    };
    const made: Remaking[] = [];
    let [{ sharp, chosen }, here]: [Splitting, Mesh] = [splitting, bare(mesh)];
    for (let r = 0; r < rounds; r++) {
      const round = splitOnce(here, { ...splitting, sharp, chosen });
      made.push(round);
      const [edges, before, faces] = [round.edges as Int32Array, sharp, chosen];
      sharp = Float32Array.from(edges, (edge) => (edge < 0 ? 0 : before[edge]));
      chosen = faces && Uint8Array.from(round.faces, (face) => faces[face]);
      here = bareOf(round);
    }
    this.rounds = made;
  }

  /** Whether it holds for a mesh and a way to split it. */
  holdsFor(mesh: Mesh, splitting: Splitting, rounds: number): boolean {
    return (
      sameNumbers(mesh.cornerPoint, this.of.cornerPoint) &&
      sameNumbers(mesh.faceStarts, this.of.faceStarts) &&
      rounds === this.rounds.length &&
      splitting.scheme === this.splitting.scheme &&
      splitting.keepsTips === this.splitting.keepsTips &&
      sameNumbers(splitting.sharp, this.splitting.sharp) &&
      sameNumbers(splitting.chosen, this.splitting.chosen)
    );
  }

  apply(mesh: Mesh): Mesh {
    return this.rounds.reduce(remade, mesh);
  }
}

function sameNumbers(a: ArrayLike<number> | undefined, b: ArrayLike<number> | undefined): boolean {
  if (a === undefined || b === undefined || a.length !== b.length) return a === b;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

/** A mesh by its faces alone. */
const bare = ({ points, corners, faces, faceStarts, cornerPoint }: Mesh): Mesh => ({
  points: { count: points.count, columns: {} },
  corners: { count: corners.count, columns: {} },
  faces: { count: faces.count, columns: {} },
  faceStarts,
  cornerPoint,
});

const bareOf = ({ points, faces, faceStarts, cornerPoint }: Remaking): Mesh => ({
  points: { count: points.starts.length - 1, columns: {} },
  corners: { count: cornerPoint.length, columns: {} },
  faces: { count: faces.length, columns: {} },
  faceStarts,
  cornerPoint,
});
