/** Operations bound to addresses: one call a block. */
import type { Kernels } from "../kernels/kernels";
import type { Operation, StepData } from "./operations";

/** A function that runs the operation over the first `count` elements of its registers. */
export function bindOperation(
  kernels: Kernels,
  operation: Operation,
  inputs: readonly number[],
  outputs: readonly number[],
  data: StepData | undefined,
): (count: number) => unknown {
  if (operation.bind) return operation.bind(kernels, inputs, outputs, data);
  const kernel = kernels.kernel(operation.kernel as string);
  const rest = [...outputs, ...inputs, ...(operation.parameters?.(data, kernels) ?? [])];
  return (count) => kernel(count, ...rest);
}

/** The operation on single numbers, rounded to float32 as in a block. */
export function callOnce(
  kernels: Kernels,
  operation: Operation,
  inputs: readonly number[],
  data: StepData | undefined,
): number[] {
  return kernels.scoped(() => {
    const from = inputs.map((value) => kernels.place([value]));
    const to = Array.from({ length: operation.outputs }, () => kernels.reserve(4));
    bindOperation(kernels, operation, from, to, data)(1);
    return to.map((address) => kernels.floats[address >> 2]);
  });
}
