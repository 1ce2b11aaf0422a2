import { EMPTY_SHAPE } from "../geometry/shape";
import { type AnyInput, type AnyNode, NodeError } from "../nodes/define";
import { HANDED_ON, type PortKind } from "../nodes/ports";
import { NO_PARTS } from "../values/parts";

/** The first input of each output's kind, passed on. */
export function bypassed(
  definition: AnyNode,
  inputs: Readonly<Record<string, unknown>>,
): Record<string, unknown> {
  const outputs: Record<string, unknown> = {};
  for (const [name, output] of Object.entries(definition.outputs)) {
    const { kind } = output as { kind: PortKind };
    // Nothing is born of what is passed by, and nothing is moved.
    if (HANDED_ON.has(kind)) {
      outputs[name] = NO_PARTS;
      continue;
    }
    const source = Object.entries(definition.inputs).find(([, input]) => {
      const declared = input as AnyInput;
      return declared.kind === kind && (declared.perElement || kind === "shape");
    });
    if (!source) throw new NodeError(`It cannot be bypassed: no input can stand in for "${name}".`);
    const value = inputs[source[0]];
    outputs[name] = (source[1] as AnyInput).many ? ((value as unknown[])[0] ?? EMPTY_SHAPE) : value;
  }
  return outputs;
}
