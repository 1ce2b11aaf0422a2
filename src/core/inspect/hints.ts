/**
 * What is not wrong but would surprise: a node without effect, a change that a later node replaces, a range that nothing falls
 * into, ids that are used twice. Each with a repair where there is one.
 */
import type { FlatGraph } from "../capsules/flatten";
import { type GraphIndex, indexGraph } from "../document/links";
import type { Remembered, ResultMemory } from "../evaluate/memory";
import type { NodeReport } from "../evaluate/report";
import { isValue, plainNumbers, type Value } from "../fields/expression";
import { runSample } from "../fields/sample";
import type { Column, Domain } from "../geometry/column";
import { DOMAINS, domainsOf, placedName } from "../geometry/domains";
import { rangeOf } from "../kernels/statistics";
import type { AnyInput, AnyNode, Hint } from "../nodes/define";
import { shapeNamed, shapesAmong } from "../values/kinds";
import { fittedRange } from "./input-statistics";
import { domainsOfUse } from "./summaries";

/** Adds `hints` to the reports of nodes that ran. */
export function addHints(flat: FlatGraph, memory: ResultMemory, reports: Record<string, NodeReport>): void {
  const index = indexGraph(flat.graph);
  const domains = domainsOfUse(flat, memory);
  for (const { id, bypass } of flat.graph.nodes) {
    const report = reports[id];
    const result = memory.get(id);
    const definition = flat.definitions.get(id);
    if (!result || !definition || bypass || !["ran", "reused"].includes(report.state)) continue;
    const hints = [
      ...effectHints(flat, memory, index, id, definition, result),
      ...rangeHints(definition, result, domains.get(id) ?? result.domains[0]),
      ...idHints(definition, result),
    ];
    if (hints.length > 0) reports[id] = { ...report, hints };
  }
}

/** Names of attributes that a node changed: of a shape's elements, and of any other of its domains. */
interface Changed {
  readonly own: readonly string[];
  readonly others: readonly string[];
}

/** Null for nodes that do not change a shape, or change how many elements it has. */
function changedAttributes(definition: AnyNode, { inputs, outputs }: Remembered): Changed | null {
  // A node that passes its very shape on has found nothing to do, and said so where that is wrong.
  if (definition.family !== "adjust" || inputs.shape === outputs.shape) return null;
  const [before, after] = [
    shapeNamed(definition.inputs, inputs, "shape"),
    shapeNamed(definition.outputs, outputs, "shape"),
  ];
  const own = after && placedName(after);
  if (!before || !after || !own || own !== placedName(before)) return null;
  const changed: Record<"own" | "others", string[]> = { own: [], others: [] };
  for (const [name, domain] of domainsOf(after)) {
    const was = DOMAINS[name].of(before);
    if (was && was.count !== domain.count) return null;
    changed[name === own ? "own" : "others"].push(...differing(was, domain));
  }
  return changed;
}

/** Attributes whose numbers differ between the two. */
const differing = (before: Domain | undefined, after: Domain): string[] =>
  Object.keys(after.columns).filter((name) => !sameColumn(before?.columns[name], after.columns[name]));

const sameColumn = (a: Column | undefined, b: Column): boolean =>
  a === b ||
  (a !== undefined &&
    a.kind === b.kind &&
    a.lanes.every((lane, l) => lane === b.lanes[l] || lane.every((value, i) => value === b.lanes[l][i])));

function effectHints(
  flat: FlatGraph,
  memory: ResultMemory,
  index: GraphIndex,
  id: string,
  definition: AnyNode,
  result: Remembered,
): Hint[] {
  const changed = changedAttributes(definition, result);
  if (!changed || changed.others.length > 0) return [];
  if (changed.own.length === 0) return [noEffect(definition, result)];
  const replacing = replacedBy(flat, memory, index, id, changed.own);
  return replacing
    ? [
        {
          level: "note",
          what: `What it does to ${changed.own.join(", ")} is replaced by "${replacing}" after it, so it has no effect.`,
          repair: { label: "Pass it by", bypass: true },
        },
      ]
    : [];
}

function noEffect({ inputs }: AnyNode, result: Remembered): Hint {
  const zero = Object.entries<AnyInput>(inputs).find(([name, input]) => {
    const value = result.inputs[name];
    return input.kind === "number" && name === "amount" && isValue(value) && plainNumbers([value])?.[0] === 0;
  });
  return {
    level: "note",
    what: zero ? `It changes nothing: "${zero[0]}" is 0 for all.` : "It changes nothing at this frame.",
    ...(zero ? { repair: { label: `Set "${zero[0]}" to 1`, input: zero[0], value: 1 } } : {}),
  };
}

/** The node after this one, along a single link, that sets all of these attributes whatever they were. */
function replacedBy(
  flat: FlatGraph,
  memory: ResultMemory,
  index: GraphIndex,
  id: string,
  attributes: readonly string[],
): string | null {
  const left = new Set(attributes);
  for (let at = id; ; ) {
    const links = index.outOf.get(at) ?? [];
    const next = links.length === 1 && links[0].to.port === "shape" ? links[0].to.node : null;
    const definition = next === null ? undefined : flat.definitions.get(next);
    const result = next === null ? undefined : memory.get(next);
    // What reads the attribute in between makes it matter.
    if (!next || !definition || !result || definition.family !== "adjust" || readsAny(result, left))
      return null;
    for (const attribute of definition.overrides?.(plainOnly(result.inputs)) ?? []) left.delete(attribute);
    if (left.size === 0) return next;
    at = next;
  }
}

/** Inputs with constants as their numbers. */
const plainOnly = (inputs: Readonly<Record<string, unknown>>): Record<string, unknown> =>
  Object.fromEntries(
    Object.entries(inputs).map(([name, value]) => {
      if (isValue(value)) return [name, plainNumbers([value])?.[0] ?? value];
      const several = Array.isArray(value) && value.length > 0 && value.every(isValue);
      return [name, several ? (plainNumbers(value) ?? value) : value];
    }),
  );

function readsAny({ inputs }: Remembered, attributes: ReadonlySet<string>): boolean {
  const seen = new Set<object>();
  const reads = ({ step }: Value): boolean => {
    if (seen.has(step)) return false;
    seen.add(step);
    if (step.op === "column" && attributes.has(step.data?.name as string)) return true;
    return step.inputs.some(reads);
  };
  return Object.values(inputs)
    .flat()
    .some((value) => isValue(value) && reads(value));
}

/** Nothing of what arrives lies in the range that is set. */
function rangeHints({ fits, inputs }: AnyNode, result: Remembered, domain: Domain | undefined): Hint[] {
  if (fits?.side !== "input") return [];
  const value = result.inputs[fits.port];
  const ends = [result.inputs[fits.low], result.inputs[fits.high]];
  if (!isValue(value) || !ends.every(isValue)) return [];
  const [low, high] = plainNumbers(ends as Value[]) ?? [];
  const plain = plainNumbers([value]);
  // One value for all is seen on the card.
  if (low === undefined || plain || !domain) return [];
  const range = rangeOf(runSample([value], domain)[0]);
  if (!range || (range.max > Math.min(low, high) && range.min < Math.max(low, high))) return [];
  const [from, to] = fittedRange({ ...range, low: range.min, high: range.max, bins: [], count: 0 }, "whole");
  return [
    {
      level: "warning",
      what: `All that arrives (${short(range.min)} … ${short(range.max)}) lies outside of "${fits.low}" … "${fits.high}".`,
      input: fits.port,
      repair: {
        label: "Fit to what arrives",
        input: fits.low,
        value: from,
        also: [{ input: fits.high, value: inputs[fits.high].whole ? Math.round(to) : to }],
      },
    },
  ];
}

const short = (value: number): string => String(Number(value.toPrecision(3)));

/** Elements that came together with the same ids: what goes by id would take them for one. */
function idHints({ inputs, outputs, family }: AnyNode, result: Remembered): Hint[] {
  const [port] = Object.keys(outputs);
  const sites = shapeNamed(outputs, result.outputs, port)?.sites;
  const came = [...shapesAmong(inputs, result.inputs)];
  const ids = sites?.columns.id?.lanes[0];
  // Said where they came together, not at every node after it.
  if (!ids || family === "adjust" || came.some(({ sites: before }) => hasTwins(before?.columns.id?.lanes[0])))
    return [];
  const twins = twinsIn(ids);
  return twins === 0
    ? []
    : [
        {
          level: "note",
          what: `${twins} of ${ids.length} ids are used more than once; random values and what goes by id take those elements for the same.`,
          repair: { label: "Renumber after it", insert: "renumber", port },
        },
      ];
}

const hasTwins = (ids: ArrayLike<number> | undefined): boolean => ids !== undefined && twinsIn(ids) > 0;

/** Elements whose id an earlier one has. Ids that ascend, as most do, are told without a set. */
function twinsIn(ids: ArrayLike<number>): number {
  let ascending = true;
  for (let i = 1; i < ids.length && ascending; i++) ascending = ids[i] > ids[i - 1];
  if (ascending) return 0;
  const seen = new Set<number>();
  for (let i = 0; i < ids.length; i++) seen.add(ids[i]);
  return ids.length - seen.size;
}
