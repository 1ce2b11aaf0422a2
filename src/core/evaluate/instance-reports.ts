/** What is said of an instance of a capsule: the sum of what is said of the nodes in it. */
import type { FlatGraph, Instance } from "../capsules/flatten";
import type { Hint, Problem } from "../nodes/define";
import type { NodeReport, NodeState } from "./report";

/** Adds a report for every instance. Innermost ones come first in the list, and are not counted twice. */
export function reportInstances(flat: FlatGraph, reports: Record<string, NodeReport>): void {
  for (const [id, instance] of flat.instances) reports[id] = reportOf(flat, instance, reports);
}

/** The first of these that any node has is the instance's. */
const TELLING: readonly NodeState[] = ["failed", "waiting", "ran", "reused", "bypassed", "unknown", "unused"];

function reportOf(
  { definitions }: FlatGraph,
  { inputs, outputs, nodes }: Instance,
  reports: Readonly<Record<string, NodeReport>>,
): NodeReport {
  const inner = nodes.map((id) => ({ id, report: reports[id] }));
  const states = new Set(inner.map(({ report }) => report.state));
  const state = TELLING.find((one) => states.has(one)) ?? "unused";
  const hints = inner.flatMap(({ id, report }) =>
    (report.hints ?? []).map((hint) => within(hint, definitions.get(id)?.title ?? id)),
  );
  const ran = inner.filter(({ report }) => report.state === "ran").length;
  const leaves = outputs === undefined ? undefined : reports[outputs];
  return {
    state,
    instance: true,
    ms: inner.reduce((sum, { report }) => sum + report.ms, 0),
    lastMs: inner.reduce((sum, { report }) => sum + (report.lastMs ?? 0), 0),
    why: `${ran} of the ${inner.length} nodes in it ran.`,
    problems: inner.flatMap(({ id, report }) =>
      // What is wrong at the border is wrong with the instance's own inputs; a repair inside would be for all instances.
      id === inputs
        ? report.problems
        : report.problems.map((problem) => within(problem, definitions.get(id)?.title ?? id)),
    ),
    bytes: inner.reduce((sum, { report }) => sum + (report.bytes ?? 0), 0),
    ...(hints.length > 0 ? { hints } : {}),
    ...(leaves?.tally ? { tally: leaves.tally } : {}),
    ...(leaves?.values ? { values: leaves.values } : {}),
  };
}

const within = ({ level, what }: Problem | Hint, title: string): Problem => ({
  level,
  what: `${title}: ${what}`,
});
