/** What an operation of a field program is. */
import type { Lane } from "../geometry/column";
import type { KernelCall, Operand, ScriptCall } from "../kernels/job";

/** Settings of a step that are not fields: tables, seeds, names. `key` tells equal settings apart cheaply. */
export interface StepData {
  readonly key: string;
  /** Lanes in the kernels' memory that the step reads besides those of the elements. */
  readonly lanes?: readonly Lane[];
  readonly [name: string]: unknown;
}

export type Data = StepData | undefined;

/** What a program gives to its steps. */
export interface Room {
  /** Puts a table where kernels can read it and gives its address. */
  readonly place: (table: Float32Array) => number;
  /** So many numbers for each element of a block, for a step's own use. */
  readonly spare: (width: number) => Operand;
}

export interface Operation {
  readonly inputs: number;
  readonly outputs: number;
  /** Name of the kernel: called with the count, the addresses of outputs and inputs, and the parameters. */
  readonly kernel?: string;
  /** Parameters after the addresses, worked out once a program: seeds, choices, addresses of tables. */
  readonly parameters?: (data: Data, room: Room) => readonly number[];
  /** In place of one kernel: several, or none. */
  readonly calls?: (
    inputs: readonly Operand[],
    outputs: readonly Operand[],
    data: Data,
    room: Room,
  ) => readonly (KernelCall | ScriptCall)[];
  /** The same for one element in float64: used where constants are folded. */
  readonly fold?: (...inputs: number[]) => number;
}
