/**
 * Ranges and histograms of field outputs, worked out on the elements on which they end up being used.
 * A field node has no elements of its own: the first node downstream that runs it lends its domain. All
 * fields of one domain run as one program over a sample, so shared parts are paid for once.
 */
import type { FlatGraph } from "../capsules/flatten";
import { indexGraph } from "../document/links";
import { carriedKind } from "../evaluate/carried";
import type { ResultMemory } from "../evaluate/memory";
import type { NodeReport, ValueSummary } from "../evaluate/report";
import { plainNumbers, type Value } from "../fields/expression";
import { runSample } from "../fields/sample";
import type { Domain } from "../geometry/column";
import { histogramOf, rangeOf } from "../kernels/statistics";
import type { AnyOutput } from "../nodes/define";

export const BINS = 24;
const FIELD_KINDS = new Set(["number", "vector", "rotation", "color"]);

/** Adds `values` to the reports of all nodes with field outputs. */
export function inspectValues(
  flat: FlatGraph,
  memory: ResultMemory,
  reports: Record<string, NodeReport>,
): void {
  const domains = domainsOfUse(flat, memory);
  const byDomain = new Map<Domain, { node: string; port: string; values: readonly Value[] }[]>();
  for (const node of flat.graph.nodes) {
    const known = memory.get(node.id);
    const definition = flat.definitions.get(node.id);
    const report = reports[node.id];
    if (!known || !definition || report.state === "failed" || report.state === "waiting") continue;
    const summaries: Record<string, ValueSummary> = {};
    for (const [port, output] of Object.entries(definition.outputs as Record<string, AnyOutput>)) {
      if (!FIELD_KINDS.has(output.kind)) continue;
      const carried = known.outputs[port] as Value | readonly Value[];
      const values = Array.isArray(carried) ? (carried as readonly Value[]) : [carried as Value];
      const plain = plainNumbers(values);
      const domain = domains.get(node.id);
      if (plain) summaries[port] = { plain };
      else if (domain) {
        const list = byDomain.get(domain);
        const entry = { node: node.id, port, values };
        if (list) list.push(entry);
        else byDomain.set(domain, [entry]);
      }
    }
    if (Object.keys(definition.outputs).some((port) => FIELD_KINDS.has(definition.outputs[port].kind))) {
      reports[node.id] = { ...report, values: summaries };
    }
  }
  for (const [domain, entries] of byDomain) {
    const lanes = runSample(
      entries.flatMap((entry) => entry.values),
      domain,
    );
    let at = 0;
    for (const { node, port, values } of entries) {
      const ranges = lanes.slice(at, (at += values.length)).map(summarise);
      const summaries = reports[node].values as Record<string, ValueSummary>;
      summaries[port] = { count: domain.count, ranges };
    }
  }
}

/** Least, greatest and BINS equal counts between; numbers that are not finite are left out. */
export function summarise(lane: Float32Array): { min: number; max: number; bins: number[] } {
  const range = rangeOf(lane);
  if (!range) return { min: 0, max: 0, bins: new Array<number>(BINS).fill(0) };
  return { ...range, bins: histogramOf(lane, range.min, range.max, BINS) };
}

/** For each node whose fields are used, the elements they are used on. */
export function domainsOfUse(flat: FlatGraph, memory: ResultMemory): Map<string, Domain> {
  const index = indexGraph(flat.graph);
  const found = new Map<string, Domain>();
  for (const node of flat.graph.nodes) {
    const domain = memory.get(node.id)?.domains[0];
    if (!domain || domain.count === 0) continue;
    const stack = [node.id];
    while (stack.length > 0) {
      const user = stack.pop() as string;
      for (const links of index.into.get(user)?.values() ?? []) {
        for (const { from } of links) {
          const kind = carriedKind(flat.definitions.get(from.node), from.port);
          if (!kind || !FIELD_KINDS.has(kind) || found.has(from.node)) continue;
          found.set(from.node, domain);
          stack.push(from.node);
        }
      }
    }
  }
  return found;
}
