/** What of a new report is as it was stays the same object, so that nothing is drawn anew for it. */
import type { EvaluationReport, NodeReport } from "@/core/evaluate/report";

/**
 * The new report with the parts of the one before that are equal. Reports between inspections carry no ranges and hints: the last
 * known ones stay until new ones come. While a result fails, the stage shows the one before, and so does the tally. A report that says
 * the same of everything, at another frame and in another time, is the one before.
 */
export function keptReport(report: EvaluationReport, before: EvaluationReport | null): EvaluationReport {
  if (!before) return report;
  let changed = false;
  const nodes: Record<string, NodeReport> = {};
  for (const [id, node] of Object.entries(report.nodes)) {
    const old = before.nodes[id];
    const now = node.values || node.hints || !old ? node : { ...node, values: old.values, hints: old.hints };
    nodes[id] = old && equal(old, now) ? old : now;
    if (nodes[id] !== old) changed = true;
  }
  const gone = Object.keys(before.nodes).some((id) => !(id in nodes));
  const now = {
    ...report,
    nodes: changed || gone ? nodes : before.nodes,
    tally: report.complete && !equal(report.tally, before.tally) ? report.tally : before.tally,
    problems: equal(report.problems, before.problems) ? before.problems : report.problems,
  };
  const { frame, ms, bytes } = before;
  // Nodes have been compared one by one.
  return now.nodes === before.nodes && equal({ ...now, frame, ms, bytes }, before) ? before : now;
}

/** Whether two values that came as messages say the same; a field that is missing is as one that is undefined. */
function equal(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== "object" || typeof b !== "object" || a === null || b === null) return false;
  if (ArrayBuffer.isView(a) || ArrayBuffer.isView(b)) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const [one, other] = [a as Record<string, unknown>, b as Record<string, unknown>];
  for (const key in one) if (!equal(one[key], other[key])) return false;
  for (const key in other) if (!(key in one) && other[key] !== undefined) return false;
  return true;
}
