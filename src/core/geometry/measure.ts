/** Measures and invariant checks of meshes; used by tests and by inspection. */
import { lengthOf } from "../maths/exact";
import { edgeKey } from "./edge-table";
import { type Mesh, pointLanes } from "./mesh";
import { triangleCorners } from "./triangles";

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
  forEachTriangle(mesh, (a, b, c) => {
    const ux = b[0] - a[0];
    const uy = b[1] - a[1];
    const uz = b[2] - a[2];
    const vx = c[0] - a[0];
    const vy = c[1] - a[1];
    const vz = c[2] - a[2];
    sum += lengthOf(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
  });
  return sum;
}

/** Number of distinct edges between points. */
export function edgeCount(mesh: Mesh): number {
  return edgeUses(mesh).size;
}

/** V − E + F, counting only points that a face uses. 2 for a sphere-like mesh, 0 for a torus. */
export function eulerCharacteristic(mesh: Mesh): number {
  return new Set(mesh.cornerPoint).size - edgeCount(mesh) + mesh.faces.count;
}

/** True when every edge lies in exactly two faces and is walked once in each direction. */
export function isClosed(mesh: Mesh): boolean {
  for (const [forward, backward] of edgeUses(mesh).values()) {
    if (forward !== 1 || backward !== 1) return false;
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

/** Edge key to [times walked low→high, times walked high→low]. */
function edgeUses(mesh: Mesh): Map<number, [number, number]> {
  const uses = new Map<number, [number, number]>();
  for (let f = 0; f < mesh.faces.count; f++) {
    const start = mesh.faceStarts[f];
    const end = mesh.faceStarts[f + 1];
    for (let c = start; c < end; c++) {
      const a = mesh.cornerPoint[c];
      const b = mesh.cornerPoint[c + 1 < end ? c + 1 : start];
      const key = edgeKey(a, b);
      let entry = uses.get(key);
      if (!entry) uses.set(key, (entry = [0, 0]));
      entry[a < b ? 0 : 1]++;
    }
  }
  return uses;
}
