/** What the points of split faces are made of, by the rules of both papers. */
import { tick } from "../../cancelling";
import type { Mesh } from "../../geometry/mesh";
import { type Mixture, MixtureWriter, WeightSum } from "../../geometry/mixture";
import type { Topology } from "../../geometry/topology";
import { cosine } from "../../maths/exact";
import type { Numbers, Splitting } from "./splitting";

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

export function quadPoints(mesh: Mesh, topology: Topology, numbers: Numbers, splitting: Splitting): Mixture {
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

export function loopPoints(mesh: Mesh, topology: Topology, numbers: Numbers, splitting: Splitting): Mixture {
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
