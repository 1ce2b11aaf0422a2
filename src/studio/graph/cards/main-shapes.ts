import type { AnyNode } from "@/core/nodes/define";

/** Inputs at the head of a node that are shapes: what it works on. One further down only refines what it does. */
export function mainShapes(definition: AnyNode): readonly string[] {
  const names = Object.keys(definition.inputs);
  const rest = names.findIndex((name) => definition.inputs[name].kind !== "shape");
  return names.slice(0, rest < 0 ? names.length : rest);
}
