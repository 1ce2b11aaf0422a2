/** Measures and invariant checks of meshes; used by tests and by inspection. */
import { lengthOf } from "../maths/exact";
import { faceAreaVectors, type Mesh, pointLanes } from "./mesh";
import { topologyOf } from "./topology";
import { triangleArea, triangleCorners } from "./triangles";

/** Signed volume of a closed mesh (divergence theorem), cubic units. */
export function meshVolume(mesh: Mesh): number {
  let sum = 0;
  forEachTriangle(mesh, (a, b, c) => {
    sum +=
      a[0] * (b[1] * c[2] - b[2] * c[1]) +
      a[1] * (b[2] * c[0] - b[0] * c[2]) +
      a[2] * (b[0] * c[1] - b[1] * c[0]);
  });
  return sum / 6;
}

/** Surface area, square units. */
export function meshArea(mesh: Mesh): number {
  let sum = 0;
  const lanes = pointLanes(mesh);
  const points = triangleCorners(mesh).map((corner) => mesh.cornerPoint[corner]);
  for (let t = 0; t < points.length; t += 3)
    sum += triangleArea(lanes, points[t], points[t + 1], points[t + 2]);
  return sum;
}

/** Area that each point stands for, square units: of each of its faces as much as of the face's other points. */
export function pointAreas(mesh: Mesh): Float64Array {
  const areas = new Float64Array(mesh.points.count);
  const [x, y, z] = faceAreaVectors(mesh);
  const { faceStarts, cornerPoint } = mesh;
  for (let f = 0; f < mesh.faces.count; f++) {
    const [first, end] = [faceStarts[f], faceStarts[f + 1]];
    const share = lengthOf(x[f], y[f], z[f]) / 2 / (end - first);
    for (let c = first; c < end; c++) areas[cornerPoint[c]] += share;
  }
  return areas;
}

/** Number of distinct edges between points. */
export const edgeCount = (mesh: Mesh): number => topologyOf(mesh).edges.count;

/** V − E + F, counting only points that a face uses. 2 for a sphere-like mesh, 0 for a torus. */
export function eulerCharacteristic(mesh: Mesh): number {
  return new Set(mesh.cornerPoint).size - edgeCount(mesh) + mesh.faces.count;
}

/** True when every edge lies in exactly two faces and is walked once in each direction. */
export function isClosed(mesh: Mesh): boolean {
  const topology = topologyOf(mesh);
  const { starts, items } = topology.cornersOfEdges;
  const isUpward = (corner: number) => mesh.cornerPoint[corner] < mesh.cornerPoint[topology.after(corner)];
  for (let e = 0; e + 1 < starts.length; e++) {
    const [first, end] = [starts[e], starts[e + 1]];
    if (end - first !== 2 || isUpward(items[first]) === isUpward(items[first + 1])) return false;
  }
  return mesh.faces.count > 0;
}

type Point = readonly [number, number, number];

function forEachTriangle(mesh: Mesh, visit: (a: Point, b: Point, c: Point) => void): void {
  const [x, y, z] = pointLanes(mesh);
  const at = (corner: number): Point => {
    const p = mesh.cornerPoint[corner];
    return [x[p], y[p], z[p]];
  };
  const corners = triangleCorners(mesh);
  for (let c = 0; c < corners.length; c += 3) visit(at(corners[c]), at(corners[c + 1]), at(corners[c + 2]));
}
