/** Meshes evened out: each point moved towards the middle of those that it has edges to. */
import { tick } from "../cancelling";
import { type Column, makeColumn, makeLanes, withColumns } from "../geometry/column";
import { type Mesh, pointLanes, withPoints } from "../geometry/mesh";
import { type Topology, topologyOf } from "../geometry/topology";

/**
 * Shrinking: the Laplacian alone. Keeping volume: each round a step in and one out (G. Taubin, "A signal processing approach to fair
 * surface design", SIGGRAPH 1995).
 */
export const SMOOTHINGS = ["keeps the volume", "shrinks"] as const;
export type Smoothing = (typeof SMOOTHINGS)[number];

/** The step in, and the step out of a frequency that passes: 1 ÷ out + 1 ÷ in = 0.1, as Taubin has it. */
const [IN, OUT] = [0.5, 1 / (0.1 - 1 / 0.5)];

export interface Smoothed {
  readonly how: Smoothing;
  readonly rounds: number;
  /** By point, 0 … 1. */
  readonly amount: Float32Array;
  /** Whether points on borders stay. */
  readonly keepsBorders: boolean;
}

export function smoothed(mesh: Mesh, { how, rounds, amount, keepsBorders }: Smoothed): Mesh {
  const topology = topologyOf(mesh);
  const share = Float32Array.from(amount);
  if (keepsBorders) for (const p of borderPoints(topology)) share[p] = 0;
  let lanes: readonly Float32Array[] = pointLanes(mesh);
  for (let round = 0; round < rounds; round++) {
    lanes = step(lanes, topology, share, IN);
    if (how === "keeps the volume") lanes = step(lanes, topology, share, OUT);
  }
  if (rounds === 0) return mesh;
  return withPoints(mesh, withColumns(mesh.points, { position: made(lanes) }));
}

/** In memory of the evaluation. */
function made(lanes: readonly Float32Array[]): Column {
  const out = makeLanes("vector", lanes[0].length);
  for (const [l, lane] of lanes.entries()) out[l].set(lane);
  return makeColumn("vector", out);
}

function step(
  lanes: readonly Float32Array[],
  topology: Topology,
  share: Float32Array,
  by: number,
): Float32Array[] {
  const { starts, items } = topology.pointsOfPoints;
  return lanes.map((lane) => {
    const out = new Float32Array(lane.length);
    for (let p = 0; p < out.length; p++) {
      const [start, end] = [starts[p], starts[p + 1]];
      tick((end - start) / 4);
      let sum = 0;
      for (let k = start; k < end; k++) sum += lane[items[k]];
      out[p] = end > start ? lane[p] + (sum / (end - start) - lane[p]) * share[p] * by : lane[p];
    }
    return out;
  });
}

/** The points of open edges; each may come several times. */
export function* borderPoints(topology: Topology): Generator<number> {
  for (let e = 0; e < topology.edges.count; e++) {
    if (!topology.isOpen(e)) continue;
    yield topology.pointOfEdge(e, 0);
    yield topology.pointOfEdge(e, 1);
  }
}
