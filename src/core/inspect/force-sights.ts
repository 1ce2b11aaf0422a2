/** What each force does to one particle, as it is at a moment. */
import type { Value } from "../fields/expression";
import { runValues } from "../fields/run";
import { type Domain, gather, makeColumn, withColumns } from "../geometry/column";
import { forcesOf } from "../particles/forces";
import type { Parts } from "../values/parts";

/** Units a second² where it pushes or slows; units a second where it carries; none where it only limits. */
export interface ForceSight {
  /** The node that it comes from, by its path. */
  readonly node: string;
  readonly title: string;
  readonly push: readonly number[] | null;
  readonly flow: readonly number[] | null;
}

/** @param nodes the node of each force, in their order */
export function forceSights(
  forces: readonly Parts[],
  nodes: readonly string[],
  domain: Domain,
  index: number,
): ForceSight[] {
  const elements = Int32Array.of(index);
  const seen = gather(domain, elements);
  const reading = (values: readonly Value[], on: Domain) =>
    runValues(values, on, { sampleOf: { elements, count: domain.count } }).lanes.map((lane) => lane[0]);
  // What is shown as its speed has what flows carry it in it; forces know only its own.
  const { flow: carrying } = forcesOf(forces);
  const carried = carrying ? reading(carrying, seen) : [0, 0, 0];
  const velocity = carried.map((v, a) => (seen.columns.velocity?.lanes[a][0] ?? 0) - v);
  const one = withColumns(seen, {
    velocity: makeColumn(
      "vector",
      velocity.map((v) => Float32Array.of(v)),
    ),
  });
  return forces.map((parts, i) => {
    const { push, drag, flow } = forcesOf([parts]);
    const [x, y, z, k] = reading([...push, drag], one);
    const pushes = parts.what === "push" || parts.what === "drag";
    return {
      node: nodes[i] ?? "",
      title: parts.title,
      push: pushes ? [x, y, z].map((v, a) => v - k * velocity[a]) : null,
      flow: flow ? reading(flow, one) : null,
    };
  });
}
