/**
 * Shapes that part where they are drawn out too far. In meshes: of an edge that is too long one end becomes two points, and the faces before and behind a plane
 * through it, across the edge, are parted (M. Müller et al., "Position based dynamics", 2007, section 4.5). Faces are never lost.
 */
import { tick } from "../cancelling";
import { gather, makeColumn, withColumns } from "../geometry/column";
import { type Curves, isClosedCurve } from "../geometry/curves";
import type { Mesh } from "../geometry/mesh";
import { type Topology, topologyOf } from "../geometry/topology";
import { type Ties, tiesOf } from "./constraints";
import { type SoftBody, strainsOf } from "./soft-body";

/** A mesh that arrives with the points that it has by now; null while nothing has parted, or when it is another mesh than the one that did. */
export function partedOf(mesh: Mesh, { domains: { points, corners } }: SoftBody): Mesh | null {
  const cornerPoint = corners.columns.point?.lanes[0] as Int32Array | undefined;
  const origin = points.columns.origin?.lanes[0] as Int32Array | undefined;
  if (!cornerPoint || !origin || cornerPoint.length !== mesh.corners.count) return null;
  if (!origin.every((p) => p < mesh.points.count)) return null;
  return withCorners(mesh, cornerPoint, origin);
}

/** Edges are numbered anew, so that what they carry has no place any more. */
function withCorners({ edges: _old, ...mesh }: Mesh, cornerPoint: Int32Array, origin: Int32Array): Mesh {
  return { ...mesh, cornerPoint, points: gather(mesh.points, origin) };
}

/**
 * The state with what is drawn out too far parted, or as it is.
 * @param mesh whose points the state has, as far as it has parted before
 * @param wanted lengths of the pairs of `ties`
 * @param limit strain
 * @param led 1 for points that are led, which stay whole
 */
export function parted(
  state: SoftBody,
  mesh: Mesh,
  ties: Ties,
  wanted: Float32Array,
  limit: number,
  led: ArrayLike<number>,
): SoftBody {
  const { points } = state.domains;
  const position = points.columns.position.lanes;
  const topology = topologyOf(mesh);
  const strains = strainsOf(wanted, position, ties.stretch);
  const over: number[] = [];
  for (let e = 0; e < topology.edges.count; e++) if (strains[e] > limit) over.push(e);
  if (over.length === 0) return state;
  // What is drawn out farthest goes first, and relieves what is beside it.
  over.sort((a, b) => strains[b] - strains[a] || a - b);
  const cornerPoint = Int32Array.from(mesh.cornerPoint);
  // Of each point the one it was before.
  const from = Array.from({ length: points.count }, (_, p) => p);
  const cut = new Set<number>();
  for (const e of over) {
    tick(16);
    const ends = [topology.pointOfEdge(e, 0), topology.pointOfEdge(e, 1)];
    if (ends.some((p) => cut.has(p))) continue;
    for (const [p, q] of [ends, [ends[1], ends[0]]]) {
      if (led[p] >= 0.5) continue;
      const away = cornersTowards(mesh, position, topology, p, q);
      if (!away) continue;
      for (const c of away) cornerPoint[c] = from.length;
      from.push(p);
      cut.add(p);
      break;
    }
  }
  if (from.length === points.count) return state;
  const origins = points.columns.origin?.lanes[0];
  const origin = Int32Array.from(from, (p) => origins?.[p] ?? p);
  const lanes = (name: string) =>
    points.columns[name].lanes.map((lane) => Float32Array.from(from, (p) => lane[p]));
  const made = withCorners(mesh, cornerPoint, Int32Array.from(from));
  const next = tiesOf({ mesh: made }) as Ties;
  const rests = (name: "stretch" | "bend") => {
    const rest = carriedRests(state.domains[name].columns.rest.lanes[0], ties[name], next[name], from);
    return { count: rest.length, columns: { rest: makeColumn("number", [rest]) } };
  };
  return {
    ...state,
    domains: {
      points: {
        count: from.length,
        columns: {
          position: makeColumn("vector", lanes("position")),
          velocity: makeColumn("vector", lanes("velocity")),
          origin: makeColumn("integer", [origin]),
        },
      },
      corners: { count: cornerPoint.length, columns: { point: makeColumn("integer", [cornerPoint]) } },
      stretch: rests("stretch"),
      bend: rests("bend"),
    },
  };
}

/** Corners at a point of the faces that lie towards another point; null when all do, or none. */
function cornersTowards(
  mesh: Mesh,
  lanes: readonly ArrayLike<number>[],
  topology: Topology,
  p: number,
  q: number,
): number[] | null {
  const { starts, items } = topology.cornersOfPoints;
  const away: number[] = [];
  for (let k = starts[p]; k < starts[p + 1]; k++) {
    const face = topology.faceOfCorner[items[k]];
    const [first, end] = [mesh.faceStarts[face], mesh.faceStarts[face + 1]];
    let towards = 0;
    for (let c = first; c < end; c++)
      for (const lane of lanes) towards += (lane[mesh.cornerPoint[c]] - lane[p]) * (lane[q] - lane[p]);
    if (towards > 0) away.push(items[k]);
  }
  return away.length === 0 || away.length === starts[p + 1] - starts[p] ? null : away;
}

/** Pairs keep the lengths they had, whichever of the points that parted they are between now. */
function carriedRests(
  rests: ArrayLike<number>,
  before: Int32Array,
  now: Int32Array,
  from: readonly number[],
): Float32Array {
  const key = (a: number, b: number) => Math.min(a, b) * from.length + Math.max(a, b);
  const known = new Map<number, number>();
  for (let e = 0; e < rests.length; e++) known.set(key(before[e * 2], before[e * 2 + 1]), rests[e]);
  return Float32Array.from(
    { length: now.length / 2 },
    (_, e) => known.get(key(from[now[e * 2]], from[now[e * 2 + 1]])) ?? 0,
  );
}

/** Curves parted at segments that hold no longer; points that are left alone are gone. @param rest of each segment, below 0 where it is torn */
export function partedCurves(curves: Curves, rest: ArrayLike<number>): Curves {
  const points: number[] = [];
  const starts = [0];
  const owners: number[] = [];
  const closed: number[] = [];
  let isTorn = false;
  for (let k = 0, segment = 0; k < curves.curves.count; k++) {
    const [first, end] = [curves.curveStarts[k], curves.curveStarts[k + 1]];
    const count = end - first;
    const isRing = isClosedCurve(curves, k) && count > 2;
    const own = isRing ? count : Math.max(0, count - 1);
    const torn = (s: number) => rest[segment + s] < 0;
    let cut = 0;
    while (cut < own && !torn(cut)) cut++;
    if (cut < own) isTorn = true;
    // A ring that is torn begins behind its first tear.
    const begin = isRing && cut < own ? cut + 1 : 0;
    let run: number[] = [];
    const finish = (asRing: boolean) => {
      if (run.length > 1) {
        points.push(...run);
        starts.push(points.length);
        owners.push(k);
        closed.push(asRing ? 1 : 0);
      }
      run = [];
    };
    for (let p = 0; p < count; p++) {
      tick();
      const at = (begin + p) % count;
      run.push(first + at);
      if (p < count - 1 && torn(at)) finish(false);
    }
    finish(isRing && cut === own);
    segment += own;
  }
  if (!isTorn) return curves;
  const wholes = gather(curves.curves, Int32Array.from(owners));
  return {
    ...curves,
    points: gather(curves.points, Int32Array.from(points)),
    curves: withColumns(wholes, { closed: makeColumn("integer", [Int32Array.from(closed)]) }),
    curveStarts: Int32Array.from(starts),
  };
}
