/** What holds a soft shape together: its edges, what lies across them, and ties over longer ways. They follow from how it arrives at first. */
import { tick } from "../cancelling";
import { type Curves, isClosedCurve, segments } from "../geometry/curves";
import type { Mesh } from "../geometry/mesh";
import type { Shape } from "../geometry/shape";
import { topologyOf } from "../geometry/topology";
import { triangleCorners } from "../geometry/triangles";
import { lengthOf } from "../maths/exact";

/** Pairs of points, two numbers each. */
export interface Ties {
  readonly stretch: Int32Array;
  /** Over one edge, so that it does not fold. */
  readonly bend: Int32Array;
  /** Three points of each triangle; none for curves. */
  readonly triangles: Int32Array;
}

const known = new WeakMap<Int32Array, Ties>();

/** Null for a shape without points that hang together. */
export function tiesOf({ mesh, curves }: Shape): Ties | null {
  const key = mesh ? mesh.cornerPoint : curves?.curveStarts;
  if (!key || key.length === 0) return null;
  let ties = known.get(key);
  if (!ties) {
    ties = mesh ? tiesOfMesh(mesh) : tiesOfCurves(curves as Curves);
    known.set(key, ties);
  }
  return ties;
}

function tiesOfMesh(mesh: Mesh): Ties {
  const topology = topologyOf(mesh);
  const { edges, across } = topology;
  const stretch = new Int32Array(edges.count * 2);
  for (let e = 0; e < edges.count; e++)
    for (const side of [0, 1] as const) stretch[e * 2 + side] = topology.pointOfEdge(e, side);
  const bend: number[] = [];
  // The corner that is farthest from an edge on both of its faces.
  const opposite = (corner: number): number => mesh.cornerPoint[topology.after(topology.after(corner))];
  for (let c = 0; c < across.length; c++) {
    tick();
    if (across[c] > c) {
      const [a, b] = [opposite(c), opposite(across[c])];
      if (a !== b) bend.push(a, b);
    }
  }
  // Four-cornered faces are held square by their diagonals.
  const diagonals: number[] = [];
  for (let f = 0; f < mesh.faces.count; f++) {
    const [first, end] = [mesh.faceStarts[f], mesh.faceStarts[f + 1]];
    for (let k = first; k + 2 < end && end - first > 3; k++)
      diagonals.push(mesh.cornerPoint[k], mesh.cornerPoint[k + 2]);
  }
  const all = new Int32Array(stretch.length + diagonals.length);
  all.set(stretch);
  all.set(diagonals, stretch.length);
  return {
    stretch: all,
    bend: Int32Array.from(bend),
    triangles: triangleCorners(mesh).map((corner) => mesh.cornerPoint[corner]),
  };
}

function tiesOfCurves(curves: Curves): Ties {
  const bend: number[] = [];
  for (let k = 0; k < curves.curves.count; k++) {
    const [first, end] = [curves.curveStarts[k], curves.curveStarts[k + 1]];
    for (let p = first; p + 2 < end; p++) bend.push(p, p + 2);
    if (isClosedCurve(curves, k) && end - first > 4) bend.push(end - 2, first, end - 1, first + 1);
  }
  return {
    stretch: Int32Array.from(segments(curves)),
    bend: Int32Array.from(bend),
    triangles: new Int32Array(0),
  };
}

/** How far the points of each pair are from each other. */
export function lengthsOf(pairs: Int32Array, [x, y, z]: readonly ArrayLike<number>[]): Float32Array {
  const lengths = new Float32Array(pairs.length / 2);
  for (let e = 0; e < lengths.length; e++) {
    const [i, j] = [pairs[e * 2], pairs[e * 2 + 1]];
    lengths[e] = lengthOf(x[i] - x[j], y[i] - y[j], z[i] - z[j]);
  }
  return lengths;
}
