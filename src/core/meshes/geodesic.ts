/** Distances along a surface. */
import { tick } from "../cancelling";
import { type Mesh, pointLanes } from "../geometry/mesh";
import { triangleCorners } from "../geometry/triangles";
import { lengthOf } from "../maths/exact";
import { Front } from "../spatial/front";

/**
 * From every point to the nearest seed along the surface, units; infinite where none is reached. The front is moved over the triangles
 * from the seeds on (R. Kimmel and J. Sethian, "Computing geodesic paths on manifolds", PNAS 95, 1998), each one laid flat.
 * @param seeds numbers of points, each with the distance that it begins with
 * @param most units: points that are further away stay infinite
 */
export function distancesAlong(
  mesh: Mesh,
  seeds: Iterable<readonly [number, number]>,
  most = Number.POSITIVE_INFINITY,
): Float32Array {
  const count = mesh.points.count;
  const distance = new Float64Array(count).fill(Number.POSITIVE_INFINITY);
  const done = new Uint8Array(count);
  const front = new Front(distance);
  for (const [p, start] of seeds)
    if (start < distance[p]) {
      distance[p] = start;
      front.add(p);
    }
  const triangles = trianglesOf(mesh);
  const lanes = pointLanes(mesh);
  for (let p = front.next(); p >= 0; p = front.next()) {
    if (done[p]) continue;
    done[p] = 1;
    if (distance[p] > most) break;
    for (let k = triangles.starts[p]; k < triangles.starts[p + 1]; k++) {
      const t = triangles.items[k];
      tick(4);
      for (let s = 0; s < 3; s++) {
        const q = triangles.points[t + s];
        if (q === p || done[q]) continue;
        const r = triangles.points[t] + triangles.points[t + 1] + triangles.points[t + 2] - p - q;
        const found = reached(lanes, distance, p, r, q);
        if (found >= distance[q]) continue;
        distance[q] = found;
        front.add(q);
      }
    }
  }
  return Float32Array.from(distance, (d) => (d > most ? Number.POSITIVE_INFINITY : d));
}

interface Triangles {
  /** Three points each. */
  readonly points: Int32Array;
  /** For each point where its triangles begin in `points`. */
  readonly starts: Int32Array;
  readonly items: Int32Array;
}

function trianglesOf(mesh: Mesh): Triangles {
  const points = triangleCorners(mesh).map((c) => mesh.cornerPoint[c]);
  const starts = new Int32Array(mesh.points.count + 1);
  for (const p of points) starts[p + 1]++;
  for (let p = 0; p < mesh.points.count; p++) starts[p + 1] += starts[p];
  const next = starts.slice();
  const items = new Int32Array(points.length);
  for (let c = 0; c < points.length; c++) items[next[points[c]]++] = c - (c % 3);
  return { points, starts, items };
}

/** How far q is when the front comes over the edge from p to r, or along the edge from p alone. */
function reached(
  lanes: readonly Float32Array[],
  distance: Float64Array,
  p: number,
  r: number,
  q: number,
): number {
  const along = distance[p] + between(lanes, p, q);
  if (!Number.isFinite(distance[r])) return along;
  // The triangle laid flat, p at 0 0, r on the x axis, q above it; the source lies below, as far from p and r as they say.
  const c = between(lanes, p, r);
  const [a, b] = [between(lanes, p, q), between(lanes, r, q)];
  if (c === 0) return along;
  const qx = (a * a - b * b + c * c) / (2 * c);
  const qy = Math.sqrt(Math.max(0, a * a - qx * qx));
  const [dp, dr] = [distance[p], distance[r]];
  const sx = (dp * dp - dr * dr + c * c) / (2 * c);
  const square = dp * dp - sx * sx;
  if (square < 0) return along;
  const sy = -Math.sqrt(square);
  // The straight way has to go through the edge.
  const crossing = sx + ((qx - sx) * -sy) / (qy - sy || 1);
  if (crossing < 0 || crossing > c) return along;
  return Math.min(along, lengthOf(qx - sx, qy - sy, 0));
}

const between = (lanes: readonly Float32Array[], p: number, q: number): number =>
  lengthOf(lanes[0][p] - lanes[0][q], lanes[1][p] - lanes[1][q], lanes[2][p] - lanes[2][q]);
