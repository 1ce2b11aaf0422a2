/** Faces cut into smaller ones, and what their corners are made of. */
import { tick } from "../../cancelling";
import type { Mesh } from "../../geometry/mesh";
import { MixtureWriter } from "../../geometry/mixture";
import type { Topology } from "../../geometry/topology";
import type { Numbers, Scheme } from "./splitting";

export function splitFaces(mesh: Mesh, topology: Topology, numbers: Numbers, scheme: Scheme) {
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
