/** Steps of a program to kernel calls. */
import { fixedAt, type KernelCall, type Operand, runRange, type ScriptCall } from "../kernels/job";
import { withScratch } from "../kernels/kernels";
import type { Operation, Place, StepData } from "./operations";

export function callsOf(
  operation: Operation,
  inputs: readonly Operand[],
  outputs: readonly Operand[],
  data: StepData | undefined,
  place: Place,
): readonly (KernelCall | ScriptCall)[] {
  if (operation.calls) return operation.calls(inputs, outputs, data);
  const numbers = operation.parameters?.(data, place) ?? [];
  return [{ kernel: operation.kernel as string, operands: [...outputs, ...inputs], numbers }];
}

/** The operation on single numbers, rounded to float32 as in a block. */
export function callOnce(
  operation: Operation,
  inputs: readonly number[],
  data: StepData | undefined,
): number[] {
  return withScratch((scratch) => {
    const from = inputs.map((value) => fixedAt(scratch.place([value])));
    const to = Array.from({ length: operation.outputs }, () => fixedAt(scratch.room(4)));
    const calls = callsOf(operation, from, to, data, (table) => scratch.place(table));
    const { kernels } = scratch.engine;
    runRange(kernels, { scratch: 0, fills: [], bring: [], calls, take: [] }, 0, 0, 1);
    return to.map(({ at }) => kernels.floats[at / 4]);
  });
}
