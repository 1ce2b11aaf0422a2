/** Steps of a program to kernel calls. */
import { fixedAt, type KernelCall, type Operand, runRange, type ScriptCall } from "../kernels/job";
import { withScratch } from "../kernels/kernels";
import type { Operation, Room, StepData } from "./operation";

export function callsOf(
  operation: Operation,
  inputs: readonly Operand[],
  outputs: readonly Operand[],
  data: StepData | undefined,
  room: Room,
): readonly (KernelCall | ScriptCall)[] {
  if (operation.calls) return operation.calls(inputs, outputs, data, room);
  const numbers = operation.parameters?.(data, room) ?? [];
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
    const room: Room = {
      place: (table) => scratch.place(table),
      spare: (width) => fixedAt(scratch.room(width * 4)),
    };
    const calls = callsOf(operation, from, to, data, room);
    const { kernels } = scratch.engine;
    runRange(kernels, { scratch: 0, fills: [], bring: [], calls, take: [] }, 0, 0, 1);
    return to.map(({ at }) => kernels.floats[at / 4]);
  });
}
