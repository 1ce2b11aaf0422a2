/** What one node may ask for, and the nearest value that would fit when it asks for too much. */
import { arraysOf } from "../geometry/domains";
import type { Shape } from "../geometry/shape";
import { MOST_SITES } from "../limits";
import { type AnyNode, type Cost, NodeError, type Repair } from "../nodes/define";
import type { Setting } from "../nodes/ports";

export interface Budget {
  readonly sites: number;
  readonly points: number;
  readonly faces: number;
  /** For one node, and for all results of a piece together. */
  readonly bytes: number;
  readonly milliseconds: number;
}

export const DEFAULT_BUDGET: Budget = {
  sites: MOST_SITES,
  points: 8_000_000,
  faces: 8_000_000,
  bytes: 2 * 1024 ** 3,
  milliseconds: 60_000,
};

const WORDS: Readonly<Record<keyof Budget, string>> = {
  sites: "sites",
  points: "points",
  faces: "faces",
  bytes: "bytes",
  milliseconds: "milliseconds",
};

/** Position, rotation, scale, id and place in order; position; where a face begins and its four corners with their normals. */
const BYTES_PER_SITE = 48;
const BYTES_PER_POINT = 12;
const BYTES_PER_FACE = 68;

const withBytes = (cost: Cost): Cost => ({
  bytes:
    (cost.sites ?? 0) * BYTES_PER_SITE +
    (cost.points ?? 0) * BYTES_PER_POINT +
    (cost.faces ?? 0) * BYTES_PER_FACE,
  ...cost,
});

/** The first limit that a cost passes, or null. */
const passed = (cost: Cost, budget: Budget): keyof Budget | null =>
  (Object.keys(budget) as (keyof Budget)[]).find((what) => !((cost[what] ?? 0) <= budget[what])) ?? null;

/**
 * Refuses a node whose declared cost passes the budget.
 * @param settable plain number inputs that the designer can change here, by name
 * @throws NodeError naming the input and the value that fits, when changing one input alone is enough
 */
export function checkBudget(
  definition: AnyNode,
  inputs: Readonly<Record<string, unknown>>,
  settable: readonly string[],
  budget: Budget,
): void {
  if (!definition.cost) return;
  const cost = withBytes(definition.cost(inputs));
  const over = passed(cost, budget);
  if (!over) return;
  const asked = cost[over] ?? 0;
  const repair = findRepair(definition, inputs, settable, budget);
  const fits = repair ? ` ${valueText(repair.value as number)} would fit.` : "";
  throw new NodeError(
    `${repair ? `"${repair.input}" asks` : "This asks"} for ${formatCount(asked)} ${WORDS[over]}; the limit is ${formatCount(budget[over])}.${fits}`,
    repair?.input,
    repair,
  );
}

/** 48 000 000 as "48 million", 1 234 as "1 234". */
export function formatCount(count: number): string {
  if (!Number.isFinite(count)) return "endlessly many";
  if (count >= 1e6)
    return `${Number((count / 1e6).toPrecision(3))
      .toLocaleString("en-GB")
      .replace(/,/g, " ")} million`;
  return Math.round(count).toLocaleString("en-GB").replace(/,/g, " ");
}

const valueText = (value: number): string => (value >= 10_000 ? formatCount(value) : String(value));

/** The input whose value needs to change by the smallest factor for the node to fit. */
function findRepair(
  definition: AnyNode,
  inputs: Readonly<Record<string, unknown>>,
  settable: readonly string[],
  budget: Budget,
): Repair | undefined {
  let best: { input: string; value: number; factor: number } | undefined;
  for (const input of settable) {
    const current = inputs[input] as number;
    const declared = definition.inputs[input];
    const fits = (value: number) =>
      passed(withBytes(definition.cost?.({ ...inputs, [input]: value }) ?? {}), budget) === null;
    for (const bound of [declared.min ?? 0, current > 0 ? current * 1e9 : 1e9]) {
      if (bound === current || !fits(bound)) continue;
      const value = bisect(current, bound, fits, declared.whole === true);
      const factor = value > 0 && current > 0 ? Math.abs(Math.log(value / current)) : Number.MAX_VALUE;
      if (!best || factor < best.factor) best = { input, value, factor };
    }
  }
  if (!best) return undefined;
  const value: Setting = best.value;
  return { label: `Set "${best.input}" to ${valueText(best.value)}`, input: best.input, value };
}

/** The value nearest to `bad` that fits, between it and `good`; rounded to the safe side for reading. */
function bisect(bad: number, good: number, fits: (value: number) => boolean, whole: boolean): number {
  let low = bad;
  let high = good;
  for (let i = 0; i < 80; i++) {
    const middle = whole ? Math.round((low + high) / 2) : (low + high) / 2;
    if (middle === low || middle === high) break;
    if (fits(middle)) high = middle;
    else low = middle;
  }
  const digits = 10 ** (2 - Math.floor(Math.log10(Math.abs(high) || 1)));
  const safe = good > bad ? Math.ceil(high * digits) / digits : Math.floor(high * digits) / digits;
  return (whole ? Number.isInteger(safe) : true) && fits(safe) ? safe : high;
}

/** Sums what results hold, counting shared columns once. */
export class MemoryTally {
  private readonly seen = new Set<object>();
  bytes = 0;

  constructor(private readonly limit: number) {}

  /** @throws NodeError when everything so far passes the limit */
  add(shape: Shape): void {
    for (const array of arraysOf(shape)) {
      if (this.seen.has(array)) continue;
      this.seen.add(array);
      this.bytes += array.byteLength;
    }
    if (this.bytes > this.limit) {
      throw new NodeError(
        `The piece would hold more than ${formatCount(this.limit)} bytes with this. Ask for fewer elements, here or before.`,
      );
    }
  }
}
