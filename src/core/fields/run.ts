/** Runs a field program over a domain, in this thread or shared out to helpers. */

import { type Domain, hasDefault, type Lane } from "../geometry/column";
import { addressOf, roomForFloats } from "../kernels/arena";
import { runJob } from "../kernels/helpers";
import {
  BLOCK,
  FIRST_ELEMENT,
  type KernelCall,
  laneAt,
  type Operand,
  ownAt,
  type RangeJob,
  type ScriptCall,
} from "../kernels/job";
import { withScratch } from "../kernels/kernels";
import { own } from "../own";
import { plainColumn, type Value } from "./expression";
import { callsOf } from "./lower";
import type { Room } from "./operation";
import { OPERATIONS } from "./operations";
import { compile, type Load, type Program } from "./program";

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

/**
 * One Float32Array of `domain.count` per value, not to be written: where a value is a column of the domain, it is that
 * column's lane, and values that are worked out the same way have one lane together.
 */
export function runValues(
  values: readonly Value[],
  domain: Domain,
  options: RunOptions = {},
): { lanes: Float32Array[]; report: RunReport } {
  const stored = values.map((value) => storedLane(value, domain));
  const made = values.filter((_, i) => stored[i] === null);
  if (made.length === 0) return { lanes: stored as Float32Array[], report: { missing: [], notFinite: 0 } };
  const program = compile(made, domain.columns);
  const targets = new Map(
    [...new Set(program.results)].map((register) => [register, roomForFloats(domain.count)]),
  );
  let next = 0;
  const lanes = stored.map((lane) => lane ?? (targets.get(program.results[next++]) as Float32Array));
  return withScratch((scratch) => {
    const lowering = new Lowering(program, domain, options);
    const job = lowering.jobFor(targets, (table) => scratch.place(table));
    return { lanes, report: { missing: [...lowering.missing], notFinite: runJob(job, domain.count) } };
  });
}

function storedLane(value: Value, { columns }: Domain): Float32Array | null {
  const read = plainColumn(value);
  const lane = read && own(columns, read.name)?.lanes[read.lane];
  return lane instanceof Float32Array ? lane : null;
}

const REGISTER = BLOCK * 4;

/** A program over a domain as one job: columns in the kernels' memory are read and written where they stand. */
class Lowering {
  readonly missing = new Set<string>();
  /** Where each register's numbers are: a block of the range's scratch, or a lane. */
  private readonly places: Operand[];
  private registers: number;
  private readonly fills: RangeJob["fills"][number][] = [];
  private readonly bring: RangeJob["bring"][number][] = [];
  private readonly take: RangeJob["take"][number][] = [];
  private readonly calls: (KernelCall | ScriptCall)[] = [];

  constructor(
    private readonly program: Program,
    private readonly domain: Domain,
    private readonly options: RunOptions,
  ) {
    this.registers = program.registers;
    this.places = Array.from({ length: program.registers }, (_, i) => ownAt(i * REGISTER));
  }

  jobFor(targets: ReadonlyMap<number, Float32Array>, place: Room["place"]): RangeJob {
    const { program, places } = this;
    for (const { register, value } of program.constants) this.fills.push({ to: places[register].at, value });
    for (const load of program.loads) this.load(load);
    const provided = new Set([...program.constants, ...program.loads].map(({ register }) => register));
    for (const [register, target] of targets) {
      const address = addressOf(target);
      if (address !== null && !provided.has(register)) places[register] = laneAt(address);
    }
    for (const { op, inputs, outputs, data } of program.instructions) {
      const [from, to] = [inputs, outputs].map((registers) => registers.map((r) => places[r]));
      this.calls.push(
        ...callsOf(OPERATIONS[op], from, to, data, { place, spare: (width) => this.spare(width) }),
      );
    }
    for (const [register, target] of targets) this.deliver(register, target, provided.has(register));
    const { fills, bring, take, calls } = this;
    return { scratch: this.registers * REGISTER, fills, bring, take, calls };
  }

  private load({ register, source, data }: Load): void {
    const to = this.places[register];
    const { sampleOf } = this.options;
    if (source === "count") {
      this.fills.push({ to: to.at, value: sampleOf?.count ?? this.domain.count });
      return;
    }
    if (source === "elementId") {
      this.loadId(register);
      return;
    }
    const name = data?.name as string;
    const lane = source === "column" && own(this.domain.columns, name)?.lanes[data?.lane as number];
    if (lane) this.loadLane(register, lane);
    // An element without an id of its own has its number.
    else if (source === "index" || name === "id") {
      if (sampleOf) this.bring.push({ from: sampleOf.elements, to: to.at });
      else this.call("countUp", [to, FIRST_ELEMENT]);
    } else {
      if (!hasDefault(name)) this.missing.add(name);
      this.fills.push({ to: to.at, value: (data?.fallback as number | undefined) ?? 0 });
    }
  }

  /** Ids as integers; an element without one of its own has its number. */
  private loadId(register: number): void {
    const to = this.places[register];
    const { elements } = this.options.sampleOf ?? {};
    const lane = this.domain.columns.id?.lanes[0] ?? elements;
    const address = lane instanceof Int32Array ? addressOf(lane) : null;
    if (address !== null) this.places[register] = laneAt(address);
    else if (lane instanceof Int32Array)
      this.bring.push({ from: new Float32Array(lane.buffer, lane.byteOffset, lane.length), to: to.at });
    else {
      if (lane) this.loadLane(register, lane);
      else this.call("countUp", [to, FIRST_ELEMENT]);
      this.call("toIntegers", [to, this.places[register]]);
      this.places[register] = to;
    }
  }

  private loadLane(register: number, lane: Lane): void {
    const address = addressOf(lane);
    const to = this.places[register];
    if (address === null) this.bring.push({ from: lane, to: to.at });
    else if (lane instanceof Int32Array) this.call("fromIntegers", [to, laneAt(address)]);
    else this.places[register] = laneAt(address);
  }

  /** Makes a result finite and brings it to its lane. What was provided is not the program's to change: it is copied first. */
  private deliver(register: number, target: Float32Array, provided: boolean): void {
    const address = addressOf(target);
    let place = this.places[register];
    if (provided) {
      const to = address === null ? this.spare() : laneAt(address);
      this.call("copy", [to, place]);
      place = to;
    }
    if (this.options.onlyFinite)
      this.calls.push({ kernel: "replaceNotFinite", operands: [place], numbers: [], counted: true });
    if (address === null) this.take.push({ from: place.at, to: target, width: 1 });
  }

  /** Registers that nothing else uses. */
  private spare(width = 1): Operand {
    const at = this.registers;
    this.registers += width;
    return ownAt(at * REGISTER);
  }

  private call(kernel: string, operands: readonly Operand[]): void {
    this.calls.push({ kernel, operands, numbers: [] });
  }
}
