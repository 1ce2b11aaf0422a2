/**
 * Compiles fields into one linear program: equal parts once, registers reused after their last use.
 */

import type { Domain, Lane } from "../geometry/column";
import { own } from "../own";
import { inputsFirst, type Step, type Value } from "./expression";
import type { Operation, StepData } from "./operation";
import { OPERATIONS, type OperationName } from "./operations";

export interface Instruction {
  readonly op: OperationName;
  /** Register numbers. */
  readonly inputs: readonly number[];
  readonly outputs: readonly number[];
  readonly data: StepData | undefined;
}

/** A register that the runner fills for each block from the domain. */
export interface Load {
  readonly register: number;
  readonly source: "column" | "index" | "count" | "elementId";
  readonly data: StepData | undefined;
}

export interface Program {
  readonly registers: number;
  /** Filled once, before the first block. */
  readonly constants: readonly { register: number; value: number }[];
  /** In order of first use; a register may be loaded again by no one else. */
  readonly loads: readonly Load[];
  readonly instructions: readonly Instruction[];
  /** Register of each requested value, in the order asked for. */
  readonly results: readonly number[];
}

/** The longest program that is run; deeper graphs are refused with a clear message instead of a hang. */
export const MAX_STEPS = 20_000;

export class ProgramTooLong extends Error {
  constructor() {
    super(`This field has more than ${MAX_STEPS} steps.`);
  }
}

/**
 * One program for several values over the same domain. What is worked out of columns that share a lane, or that the elements
 * lack, is worked out once: the size of an even clone is one number, not three. Asked again for the same values over elements that
 * have the same, it gives the program of before.
 * @throws ProgramTooLong
 */
export function compile(values: readonly Value[], columns: Domain["columns"] = {}): Program {
  const known = values.length > 0 ? compiled.get(values[0].step) : undefined;
  if (known && isFor(known, values, columns)) return known.program;
  const { steps, numberOf, read } = distinctSteps(values, columns);
  const program = programOf(values, steps, numberOf);
  if (values.length > 0) compiled.set(values[0].step, { values: [...values], read, program });
  return program;
}

interface Compiled {
  readonly values: readonly Value[];
  /** Columns that are read, in order, and what each then was. */
  readonly read: readonly { readonly step: Step; readonly key: string }[];
  readonly program: Program;
}

/** The last program that began with a step: between frames mostly the elements change, not what is done to them. */
const compiled = new WeakMap<Step, Compiled>();

function isFor(known: Compiled, values: readonly Value[], columns: Domain["columns"]): boolean {
  const sameValues =
    known.values.length === values.length &&
    known.values.every(({ step, lane }, i) => step === values[i].step && lane === values[i].lane);
  if (!sameValues) return false;
  const columnKey = columnKeys(columns);
  return known.read.every(({ step, key }) => columnKey(step) === key);
}

function programOf(
  values: readonly Value[],
  steps: readonly NumberedStep[],
  numberOf: (step: Step) => number,
): Program {
  const lastUse = new Array<number>(steps.length).fill(-1);
  steps.forEach(({ inputs }, at) => {
    for (const input of inputs) lastUse[input.step] = at;
  });
  const kept = new Set(values.map((value) => numberOf(value.step)));

  const free: number[] = [];
  let registers = 0;
  const take = () => free.pop() ?? registers++;
  const registersOf: number[][] = [];
  const constants: { register: number; value: number }[] = [];
  const loads: Load[] = [];
  const instructions: Instruction[] = [];

  // Constants and loads are filled before a block's first instruction, so they get registers of their own first.
  steps.forEach(({ step }, at) => {
    const { op, data } = step;
    if (op === "constant") {
      const register = take();
      registersOf[at] = [register];
      constants.push({ register, value: data?.value as number });
    } else if (op === "column" || op === "index" || op === "count" || op === "elementId") {
      const register = take();
      registersOf[at] = [register];
      loads.push({ register, source: op, data });
    }
  });
  steps.forEach(({ step, inputs }, at) => {
    if (registersOf[at]) return;
    const operation: Operation = OPERATIONS[step.op];
    const outputs = Array.from({ length: operation.outputs }, take);
    registersOf[at] = outputs;
    instructions.push({
      op: step.op,
      inputs: inputs.map((input) => registersOf[input.step][input.lane]),
      outputs,
      data: step.data,
    });
    for (const { step: source } of new Set(inputs)) {
      const computed = steps[source].inputs.length > 0;
      if (lastUse[source] === at && computed && !kept.has(source)) {
        free.push(...registersOf[source]);
        lastUse[source] = -1;
      }
    }
    if (lastUse[at] === -1 && !kept.has(at)) free.push(...outputs);
  });
  return {
    registers,
    constants,
    loads,
    instructions,
    results: values.map((value) => registersOf[numberOf(value.step)][value.lane]),
  };
}

interface NumberedStep {
  readonly step: Step;
  readonly inputs: readonly { step: number; lane: number }[];
}

/** All steps that the values need, inputs before users, equal ones merged. */
function distinctSteps(values: readonly Value[], columns: Domain["columns"]) {
  const columnKey = columnKeys(columns);
  const read: { step: Step; key: string }[] = [];
  const steps: NumberedStep[] = [];
  const numbers = new Map<Step, number>();
  const byKey = new Map<string, number>();
  for (const { step: root } of values) {
    for (const step of inputsFirst(root, numbers)) {
      const inputs = step.inputs.map((input) => ({
        step: numbers.get(input.step) as number,
        lane: input.lane,
      }));
      const data = step.op === "column" ? columnKey(step) : step.data?.key;
      if (step.op === "column") read.push({ step, key: data as string });
      const key = `${step.op}|${data ?? ""}|${inputs.map((i) => `${i.step}.${i.lane}`).join(",")}`;
      let number = byKey.get(key);
      if (number === undefined) {
        number = steps.length;
        if (number >= MAX_STEPS) throw new ProgramTooLong();
        steps.push({ step, inputs });
        byKey.set(key, number);
      }
      numbers.set(step, number);
    }
  }
  return { steps, numberOf: (step: Step) => numbers.get(step) as number, read };
}

/** Names of what columns read: equal where it is the same lane, or the same stands in for an attribute that there is not. */
function columnKeys(columns: Domain["columns"]): (step: Step) => string {
  const lanes = new Map<Lane, number>();
  return ({ data }) => {
    const lane = own(columns, data?.name as string)?.lanes[data?.lane as number];
    if (!lane) return `none ${data?.fallback} ${data?.name}`;
    const number = lanes.get(lane) ?? lanes.size;
    lanes.set(lane, number);
    return String(number);
  };
}
