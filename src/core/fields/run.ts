/** Runs a field program over a domain, in this thread or shared out to helpers. */
import { type Domain, hasDefault, type Lane, makeFloats } from "../geometry/column";
import { kernels } from "../kernels/kernels";
import type { Value } from "./expression";
import { helpers } from "./helpers";
import { compile, type Program } from "./program";
import { BLOCK, type RangeJob, runRange } from "./range";

/** Elements below which handing blocks out costs more than it saves. */
const WORTH_SHARING = 65_536;

export interface RunReport {
  /** Attributes that were read but that the elements do not have; their default was used. */
  missing: string[];
  /** Results that were not finite and became 0; 0 unless asked for. */
  notFinite: number;
}

export interface RunOptions {
  /** Make results that are not finite 0, and count them. */
  readonly onlyFinite?: boolean;
  /** When the domain is a sample of a larger one: the number of each element there, and that one's count. */
  readonly sampleOf?: { readonly elements: Int32Array; readonly count: number };
}

/** One Float32Array of `domain.count` per value. */
export function runValues(
  values: readonly Value[],
  domain: Domain,
  options: RunOptions = {},
): { lanes: Float32Array[]; report: RunReport } {
  const lanes = values.map(() => makeFloats(domain.count));
  const program = compile(values);
  const { job, missing } = prepare(program, domain, lanes, options);
  return { lanes, report: { missing, notFinite: runJob(job, domain.count) } };
}

/** Finds what the program's loads read. */
function prepare(
  program: Program,
  domain: Domain,
  targets: readonly Float32Array[],
  { onlyFinite = false, sampleOf }: RunOptions,
): { job: RangeJob; missing: string[] } {
  const missing = new Set<string>();
  const numbered: number[] = [];
  const sources = program.loads.map((load, i): Lane | number => {
    if (load.source === "count") return sampleOf?.count ?? domain.count;
    const name = load.data?.name as string;
    const lane = load.source === "column" && domain.columns[name]?.lanes[load.data?.lane as number];
    if (lane) return lane;
    // An element without an id of its own has its number.
    if (load.source === "index" || name === "id") numbered.push(i);
    else if (!hasDefault(name)) missing.add(name);
    return (load.data?.fallback as number | undefined) ?? 0;
  });
  return {
    job: { program, sources, numbered, elements: sampleOf?.elements, targets, onlyFinite },
    missing: [...missing],
  };
}

function runJob(job: RangeJob, count: number): number {
  const pool = count >= WORTH_SHARING && isShared(job) ? helpers() : null;
  const threads = 1 + (pool?.count ?? 0);
  if (!pool || threads === 1) return runRange(kernels(), job, 0, count);
  const share = Math.ceil(count / threads / BLOCK) * BLOCK;
  const ranges = Array.from(
    { length: threads },
    (_, i) => [Math.min(count, i * share), Math.min(count, (i + 1) * share)] as const,
  );
  return pool.run(job, ranges);
}

/** True when sending the job copies nothing large: columns are in shared memory, and no picture is read. */
function isShared({ program, sources, targets }: RangeJob): boolean {
  const lanes = [...sources.filter((source) => typeof source !== "number"), ...targets];
  return (
    typeof SharedArrayBuffer === "function" &&
    lanes.every((lane) => lane.buffer instanceof SharedArrayBuffer) &&
    !program.instructions.some(({ op }) => op === "picture")
  );
}
