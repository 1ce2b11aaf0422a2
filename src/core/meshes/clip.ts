/** Meshes cut off at a plane. */
import { tick } from "../cancelling";
import { edgeKey } from "../geometry/edge-table";
import type { Mesh } from "../geometry/mesh";
import { pointLanes } from "../geometry/mesh";
import { MixtureWriter } from "../geometry/mixture";
import { topologyOf } from "../geometry/topology";
import { dot, type Vec3 } from "../maths/vector";
import { edgesBy, remade } from "./remade";

/** Part of the whole by which a point may be off the plane and still lie on it. */
const ON_PLANE = 1e-6;

/**
 * What lies on the side that the plane faces; faces that it cuts end there, and the cut stays open.
 * @param normal unit
 * @param offset distance of the plane from the origin along it
 */
export function clipped(mesh: Mesh, normal: Vec3, offset: number): Mesh {
  const lanes = pointLanes(mesh);
  const above = Float64Array.from(
    lanes[0],
    (_, p) => dot([lanes[0][p], lanes[1][p], lanes[2][p]], normal) - offset,
  );
  const size = above.reduce((most, d) => Math.max(most, Math.abs(d)), 0);
  const near = size * ON_PLANE;
  const side = (p: number) => (above[p] > near ? 1 : above[p] < -near ? -1 : 0);
  const topology = topologyOf(mesh);
  const numbers = new Int32Array(mesh.points.count).fill(-1);
  const onEdge = new Int32Array(topology.edges.count).fill(-1);
  /** Points as two others and how far from the first, in the order of their numbers. */
  const made: (readonly [number, number, number])[] = [];
  const kept = (p: number) => {
    if (numbers[p] < 0) numbers[p] = made.push([p, p, 0]) - 1;
    return numbers[p];
  };
  const cut = (edge: number) => {
    if (onEdge[edge] < 0) {
      const [p, q] = [topology.pointOfEdge(edge, 0), topology.pointOfEdge(edge, 1)];
      onEdge[edge] = made.push([p, q, above[p] / (above[p] - above[q])]) - 1;
    }
    return onEdge[edge];
  };
  const points: number[] = [];
  const starts = [0];
  const faces: number[] = [];
  const corners: (readonly [number, number, number])[] = [];
  for (let f = 0; f < mesh.faces.count; f++) {
    tick(4);
    const [start, end] = [mesh.faceStarts[f], mesh.faceStarts[f + 1]];
    const before = points.length;
    let inside = false;
    for (let c = start; c < end; c++) {
      const next = c + 1 < end ? c + 1 : start;
      const [p, q] = [mesh.cornerPoint[c], mesh.cornerPoint[next]];
      if (side(p) >= 0) {
        points.push(kept(p));
        corners.push([c, c, 0]);
        if (side(p) > 0) inside = true;
      }
      if (side(p) * side(q) < 0) {
        points.push(cut(topology.edges.ofCorner[c]));
        corners.push([c, next, above[p] / (above[p] - above[q])]);
      }
    }
    if (!inside || points.length - before < 3) {
      points.length = before;
      corners.length = before;
      continue;
    }
    starts.push(points.length);
    faces.push(f);
  }
  // Points of faces that were left out after all may belong to none; they are numbered, and go.
  const used = new Int32Array(made.length).fill(-1);
  const order: number[] = [];
  const cornerPoint = Int32Array.from(points, (p) => {
    if (used[p] < 0) used[p] = order.push(p) - 1;
    return used[p];
  });
  const faceStarts = Int32Array.from(starts);
  const whole = new Map<number, number>();
  for (let e = 0; e < topology.edges.count; e++) {
    const ends = [numbers[topology.pointOfEdge(e, 0)], numbers[topology.pointOfEdge(e, 1)]];
    const [a, b] = ends.map((n) => (n < 0 ? (onEdge[e] < 0 ? -1 : used[onEdge[e]]) : used[n]));
    if (a >= 0 && b >= 0) whole.set(edgeKey(a, b), e);
  }
  const edgeOf = (a: number, b: number) => whole.get(edgeKey(a, b)) ?? -1;
  return remade(mesh, {
    points: mixtureOf(order.map((p) => made[p])),
    corners: mixtureOf(corners),
    faces: Int32Array.from(faces),
    faceStarts,
    cornerPoint,
    ...(mesh.edges ? { edges: edgesBy({ faceStarts, cornerPoint }, order.length, edgeOf) } : {}),
  });
}

function mixtureOf(list: readonly (readonly [number, number, number])[]) {
  const writer = new MixtureWriter(list.length);
  for (const [p, q, t] of list) {
    writer.add(p, 1 - t);
    if (t > 0) writer.add(q, t);
    writer.next();
  }
  return writer.done();
}
