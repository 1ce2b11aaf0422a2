/** Which faces are split, and the numbers of the points that this makes. */
import { tick } from "../../cancelling";
import { edgeKey } from "../../geometry/edge-table";
import type { Mesh } from "../../geometry/mesh";
import type { Topology } from "../../geometry/topology";

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

export interface Numbers {
  readonly isSplit: (face: number) => boolean;
  /** Numbers of the new points, −1 where there is none. */
  readonly ofFace: Int32Array;
  readonly ofEdge: Int32Array;
  /** Edges that get a point, in the order of those points. */
  readonly edges: Int32Array;
  readonly faces: Int32Array;
}

export function numbered(mesh: Mesh, topology: Topology, { scheme, chosen }: Splitting): Numbers {
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
export function edgeParts(mesh: Mesh, topology: Topology, { ofFace, ofEdge, edges }: Numbers) {
  const first = mesh.points.count + ofFace.reduce((sum, p) => sum + (p >= 0 ? 1 : 0), 0);
  const whole = new Map<number, number>();
  if (edges.length < topology.edges.count)
    for (let e = 0; e < topology.edges.count; e++)
      if (ofEdge[e] < 0) whole.set(edgeKey(topology.pointOfEdge(e, 0), topology.pointOfEdge(e, 1)), e);
  return (a: number, b: number): number => {
    const [low, high] = a < b ? [a, b] : [b, a];
    if (low >= mesh.points.count) return -1;
    if (high >= first) {
      const edge = edges[high - first];
      return topology.pointOfEdge(edge, 0) === low || topology.pointOfEdge(edge, 1) === low ? edge : -1;
    }
    return whole.get(edgeKey(low, high)) ?? -1;
  };
}
