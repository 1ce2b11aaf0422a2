/** Runs a field program over a domain, block by block. */
import { tick } from "../cancelling";
import { type Domain, hasDefault } from "../geometry/column";
import { type Kernels, kernels } from "../kernels/kernels";
import { bindOperation } from "./call";
import type { Value } from "./expression";
import { compile, type Program } from "./program";

/** Elements per block: registers of a long program still fit the cache. */
export const BLOCK = 1024;

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
  const lanes = values.map(() => new Float32Array(domain.count));
  const report = runProgram(compile(values), domain, lanes, options);
  return { lanes, report };
}

/** Runs a compiled program into caller-owned arrays, one per result, each as long as the domain. */
export function runProgram(
  program: Program,
  domain: Domain,
  targets: readonly Float32Array[],
  options: RunOptions = {},
): RunReport {
  const engine = kernels();
  return engine.scoped(() => runIn(engine, program, domain, targets, options));
}

function runIn(
  engine: Kernels,
  program: Program,
  domain: Domain,
  targets: readonly Float32Array[],
  options: RunOptions,
): RunReport {
  const arena = engine.reserve(program.registers * BLOCK);
  const addressOf = (register: number) => arena + register * BLOCK * 4;
  const calls = program.instructions.map(({ operation, inputs, outputs, data }) =>
    bindOperation(engine, operation, inputs.map(addressOf), outputs.map(addressOf), data),
  );
  // Binding may have placed tables and so moved the memory; it stays where it is from here on.
  const { floats } = engine;
  const registers = Array.from({ length: program.registers }, (_, i) =>
    floats.subarray(addressOf(i) >> 2, (addressOf(i) >> 2) + BLOCK),
  );
  for (const { register, value } of program.constants) registers[register].fill(value);
  // Constants are filled once and finite values stay so; those that are not are caught with the others.
  const constant = new Set(
    program.constants.filter(({ value }) => Number.isFinite(value)).map(({ register }) => register),
  );
  const missing = new Set<string>();
  const columns = program.loads.map((load) => {
    if (load.source === "count") registers[load.register].fill(options.sampleOf?.count ?? domain.count);
    if (load.source !== "column") return undefined;
    const name = load.data?.name as string;
    const lane = domain.columns[name]?.lanes[load.data?.lane as number];
    if (!lane) {
      registers[load.register].fill(load.data?.fallback as number);
      if (!hasDefault(name)) missing.add(name);
    }
    return lane;
  });
  const cleanse = engine.kernel("replaceNotFinite");
  const computed = new Set(program.results.filter((register) => !constant.has(register)));
  let notFinite = 0;
  for (let start = 0; start < domain.count; start += BLOCK) {
    tick(BLOCK * program.instructions.length);
    const count = Math.min(BLOCK, domain.count - start);
    program.loads.forEach(({ register, source, data }, i) => {
      const lane = columns[i];
      if (lane) registers[register].set(lane.subarray(start, start + count));
      else if (source === "index" || data?.name === "id") {
        fillNumbers(registers[register], start, count, options.sampleOf?.elements);
      }
    });
    for (const call of calls) call(count);
    if (options.onlyFinite)
      for (const register of computed) notFinite += cleanse(count, addressOf(register)) ?? 0;
    program.results.forEach((register, i) => {
      targets[i].set(count === BLOCK ? registers[register] : registers[register].subarray(0, count), start);
    });
  }
  return { missing: [...missing], notFinite };
}

/** The numbers of the elements start … start + count − 1. */
function fillNumbers(
  register: Float32Array,
  start: number,
  count: number,
  elements: Int32Array | undefined,
): void {
  for (let i = 0; i < count; i++) register[i] = elements ? elements[start + i] : start + i;
}
