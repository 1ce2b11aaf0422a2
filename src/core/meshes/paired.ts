/** Triangles joined in pairs. */
import { tick } from "../cancelling";
import { type Mesh, makeMesh, pointLanes } from "../geometry/mesh";
import { topologyOf } from "../geometry/topology";
import { arcCosine, lengthOf } from "../maths/exact";
import { edgeAngles } from "./edge-angles";

/** Worst corner of a four-sided face that is taken, away from a right angle. Radians. */
const WORST = (60 * Math.PI) / 180;

/**
 * Two triangles over an edge become a face of four corners, the squarest pairs first; each triangle once, so a few are left. What
 * points carry stays; corners and faces start anew.
 * @param mesh triangles only @param sharp radians: nothing is joined over an edge that bends by more
 */
export function paired(mesh: Mesh, sharp: number): Mesh {
  const topology = topologyOf(mesh);
  const bends = edgeAngles(mesh);
  const [x, y, z] = pointLanes(mesh);
  const { count, corners } = topology.edges;
  /** How far the worst corner would be from a right angle. */
  const skew = new Float64Array(count).fill(Number.POSITIVE_INFINITY);
  for (let e = 0; e < count; e++) {
    tick(8);
    if (topology.isOpen(e) || Math.abs(bends[e]) > sharp) continue;
    const ring = around(corners[2 * e]);
    skew[e] = Math.max(...ring.map((p, i) => off(ring[(i + 3) % 4], p, ring[(i + 1) % 4])));
  }
  const order = Array.from(skew.keys()).filter((e) => skew[e] <= WORST);
  order.sort((a, b) => skew[a] - skew[b] || a - b);
  const taken = new Uint8Array(mesh.faces.count);
  const points: number[] = [];
  const starts = [0];
  for (const e of order) {
    const c = corners[2 * e];
    const [one, two] = [topology.faceOfCorner[c], topology.faceOfCorner[topology.across[c]]];
    if (taken[one] || taken[two]) continue;
    taken[one] = taken[two] = 1;
    points.push(...around(c));
    starts.push(points.length);
  }
  for (let f = 0; f < taken.length; f++) {
    if (taken[f]) continue;
    points.push(...mesh.cornerPoint.subarray(mesh.faceStarts[f], mesh.faceStarts[f + 1]));
    starts.push(points.length);
  }
  const made = makeMesh({
    position: [x, y, z],
    cornerPoint: Int32Array.from(points),
    faceStarts: Int32Array.from(starts),
  });
  return { ...made, points: mesh.points };

  /** The four points around both triangles of the edge that begins at a corner. */
  function around(c: number): number[] {
    const d = topology.across[c];
    const at = (corner: number) => mesh.cornerPoint[corner];
    return [at(c), at(topology.before(d)), at(d), at(topology.before(c))];
  }

  function off(p: number, q: number, r: number): number {
    const [ax, ay, az] = [x[p] - x[q], y[p] - y[q], z[p] - z[q]];
    const [bx, by, bz] = [x[r] - x[q], y[r] - y[q], z[r] - z[q]];
    const both = lengthOf(ax, ay, az) * lengthOf(bx, by, bz);
    if (both === 0) return Math.PI;
    return Math.abs(arcCosine(Math.max(-1, Math.min(1, (ax * bx + ay * by + az * bz) / both))) - Math.PI / 2);
  }
}
