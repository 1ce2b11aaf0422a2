/** Edges of a mesh as curves. */
import { tick } from "../cancelling";
import { gather, makeColumn, withColumns } from "../geometry/column";
import { type Curves, makeCurves } from "../geometry/curves";
import { type Mesh, pointLanes } from "../geometry/mesh";
import { topologyOf } from "../geometry/topology";

/**
 * The chosen edges in as few curves as follow them one by one: a curve ends where more or fewer than two of them meet, and is closed where
 * they go round. What points carry is kept.
 * @param chosen by edge, 1 for those
 */
export function edgePaths(mesh: Mesh, chosen: Uint8Array): Curves | null {
  const chains = chainsOf(mesh, chosen);
  if (chains.length === 0) return null;
  const all = Int32Array.from(chains.flatMap(({ points }) => points));
  const curveStarts = new Int32Array(chains.length + 1);
  for (const [k, { points }] of chains.entries()) curveStarts[k + 1] = curveStarts[k] + points.length;
  const lanes = pointLanes(mesh).map((lane) => Float32Array.from(all, (p) => lane[p]));
  const made = makeCurves({
    position: [lanes[0], lanes[1], lanes[2]],
    curveStarts,
    closed: Int32Array.from(chains, ({ closed }) => (closed ? 1 : 0)),
  });
  const { position: _place, uv: _laid, ...columns } = gather(mesh.points, all).columns;
  const numbers = makeColumn("integer", [Int32Array.from({ length: chains.length }, (_, k) => k)]);
  return {
    ...made,
    points: withColumns({ count: all.length, columns }, made.points.columns),
    curves: withColumns(made.curves, { part: numbers }),
  };
}

interface Chain {
  readonly points: readonly number[];
  readonly closed: boolean;
}

function chainsOf(mesh: Mesh, chosen: Uint8Array): Chain[] {
  const topology = topologyOf(mesh);
  const at: Map<number, number[]> = new Map();
  for (let e = 0; e < chosen.length; e++) {
    if (!chosen[e]) continue;
    for (const end of [0, 1] as const) {
      const p = topology.pointOfEdge(e, end);
      at.set(p, [...(at.get(p) ?? []), e]);
    }
  }
  const done = new Uint8Array(chosen.length);
  const chains: Chain[] = [];
  const walk = (first: number, edge: number) => {
    const points = [first];
    for (let e: number | undefined = edge; e !== undefined; ) {
      done[e] = 1;
      tick();
      const [a, b] = [topology.pointOfEdge(e, 0), topology.pointOfEdge(e, 1)];
      const next = a === points[points.length - 1] ? b : a;
      points.push(next);
      const around: readonly number[] = at.get(next) ?? [];
      e = around.length === 2 ? around.find((other) => !done[other]) : undefined;
    }
    const closed = points.length > 3 && points[points.length - 1] === first;
    if (closed) points.pop();
    chains.push({ points, closed });
  };
  // From where paths end or branch; what is left goes round.
  for (const [p, edges] of at) if (edges.length !== 2) for (const e of edges) if (!done[e]) walk(p, e);
  for (const [p, edges] of at) for (const e of edges) if (!done[e]) walk(p, e);
  return chains;
}
