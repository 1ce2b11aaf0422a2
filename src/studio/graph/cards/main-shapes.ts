import type { AnyNode } from "@/core/nodes/define";

/** Inputs at the head of a node that take shapes: what it works on. One further down only refines what it does. */
/** Where births are wanted a shape is an emitter. */
const TAKEN = new Set(["shape", "births"]);

export function mainShapes(definition: AnyNode): readonly string[] {
  const names = Object.keys(definition.inputs);
  const rest = names.findIndex((name) => !TAKEN.has(definition.inputs[name].kind));
  return names.slice(0, rest < 0 ? names.length : rest);
}
