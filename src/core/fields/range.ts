/** A stretch of elements of one program: what a single thread runs. Plain data, so that it can be sent to another. */
import { tick } from "../cancelling";
import type { Lane } from "../geometry/column";
import type { Kernels } from "../kernels/kernels";
import { bindOperation } from "./call";
import { OPERATIONS } from "./operations";
import type { Program } from "./program";

/** Elements per block: registers of a long program still fit the cache. */
export const BLOCK = 1024;

export interface RangeJob {
  readonly program: Program;
  /** For each of the program's loads, the lane it reads, or the number that all elements have. */
  readonly sources: readonly (Lane | number)[];
  /** Loads that count the elements instead: their numbers, or none for 0, 1, 2 … */
  readonly numbered: readonly number[];
  readonly elements?: Int32Array;
  /** One for each result, as long as all elements together. */
  readonly targets: readonly Float32Array[];
  readonly onlyFinite: boolean;
}

/** Runs elements `from` … `until` − 1. Returns how many results were not finite and became 0, when asked for. */
export function runRange(engine: Kernels, job: RangeJob, from: number, until: number): number {
  return engine.scoped(() => runIn(engine, job, from, until));
}

function runIn(engine: Kernels, job: RangeJob, from: number, until: number): number {
  const { program, sources, targets } = job;
  const arena = engine.reserve(program.registers * BLOCK);
  const addressOf = (register: number) => arena + register * BLOCK * 4;
  const calls = program.instructions.map(({ op, inputs, outputs, data }) =>
    bindOperation(engine, OPERATIONS[op], inputs.map(addressOf), outputs.map(addressOf), data),
  );
  // Binding may have placed tables and so moved the memory; it stays where it is from here on.
  const { floats } = engine;
  const registers = Array.from({ length: program.registers }, (_, i) =>
    floats.subarray(addressOf(i) >> 2, (addressOf(i) >> 2) + BLOCK),
  );
  for (const { register, value } of program.constants) registers[register].fill(value);
  program.loads.forEach(({ register }, i) => {
    const source = sources[i];
    if (typeof source === "number") registers[register].fill(source);
  });
  // Constants are filled once and finite values stay so; those that are not are caught with the others.
  const constant = new Set(
    program.constants.filter(({ value }) => Number.isFinite(value)).map(({ register }) => register),
  );
  const computed = new Set(program.results.filter((register) => !constant.has(register)));
  const cleanse = engine.kernel("replaceNotFinite");
  let notFinite = 0;
  for (let start = from; start < until; start += BLOCK) {
    tick(BLOCK * program.instructions.length);
    const count = Math.min(BLOCK, until - start);
    program.loads.forEach(({ register }, i) => {
      const source = sources[i];
      if (typeof source !== "number") registers[register].set(source.subarray(start, start + count));
    });
    for (const i of job.numbered)
      fillNumbers(registers[program.loads[i].register], start, count, job.elements);
    for (const call of calls) call(count);
    if (job.onlyFinite)
      for (const register of computed) notFinite += cleanse(count, addressOf(register)) ?? 0;
    program.results.forEach((register, i) => {
      targets[i].set(count === BLOCK ? registers[register] : registers[register].subarray(0, count), start);
    });
  }
  return notFinite;
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
