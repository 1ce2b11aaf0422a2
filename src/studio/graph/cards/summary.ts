/** What a report says of a node, in a few characters for its flap. */
import type { EvaluationReport, NodeReport, ValueSummary } from "@/core/evaluate/report";
import type { Sight } from "@/core/inspect/trace";
import { numberText } from "@/ui/number-field";

export const countText = (count: number): string => count.toLocaleString("en-GB").replace(/,/g, "\u2009");

/** `5 120`, `968 faces`, `−0.9 … 0.9`, `0.25`: what the main output holds. */
export function tallyText(report: NodeReport | undefined, mainOutput: string | undefined): string {
  if (!report) return "";
  if (report.tally) {
    const { sites, faces, points } = report.tally;
    if (sites > 0) return countText(sites);
    if (faces > 0) return `${countText(faces)} faces`;
    return points > 0 ? `${countText(points)} points` : "empty";
  }
  return valueText(mainOutput ? report.values?.[mainOutput] : undefined);
}

export function valueText(value: ValueSummary | undefined): string {
  if (!value) return "";
  if (value.plain) return value.plain.length > 3 ? "one value" : value.plain.map(short).join(", ");
  const range = value.ranges?.length === 1 ? value.ranges[0] : undefined;
  return range ? `${short(range.min)} … ${short(range.max)}` : value.ranges ? "per element" : "";
}

const short = (value: number): string => numberText(Number(value.toPrecision(3)));

/** Six digits: enough to tell float32 numbers of one table apart, short enough for a column. */
export const shortNumber = (value: number): string => String(Number(value.toPrecision(6)));

/** What a traced element is at a port: its values, or its number. */
export function sightText(sight: Sight | undefined): string {
  if (!sight) return "";
  return sight.kind === "element" ? `#${sight.index}` : sight.value.map(shortNumber).join(", ");
}

const wholeTimes = new WeakMap<EvaluationReport, number>();

/** Milliseconds of the runs that made all present results; summed once a report, as every card asks. */
export function wholeTime(report: EvaluationReport): number {
  let whole = wholeTimes.get(report);
  if (whole === undefined) {
    whole = Object.values(report.nodes)
      // Instances are the sums of what is in them.
      .filter(({ instance }) => !instance)
      .reduce((sum, { lastMs = 0 }) => sum + lastMs, 0);
    wholeTimes.set(report, whole);
  }
  return whole;
}

/** Part of that which a node took, 0…1. */
export function shareOfTime(report: EvaluationReport, node: NodeReport | undefined): number {
  const whole = wholeTime(report);
  return whole > 0 ? (node?.lastMs ?? 0) / whole : 0;
}

export const msText = (ms: number): string => (ms >= 100 ? `${Math.round(ms)} ms` : `${ms.toFixed(1)} ms`);
