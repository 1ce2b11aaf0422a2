/** What a link carries away from a node: an output, or the value that one of its inputs has. */

import { settingPort } from "../document/links";
import { constant, isValue, scaleBy, type Value } from "../fields/expression";
import { RADIANS } from "../maths/quaternion";
import type { AnyInput, AnyNode, AnyOutput } from "../nodes/define";
import type { PortKind } from "../nodes/ports";
import { own } from "../own";
import type { Remembered } from "./memory";

/** Kind of what leaves by a port; undefined when there is no such port. */
export function carriedKind(definition: AnyNode | undefined, port: string): PortKind | undefined {
  const input = settingPort(port);
  if (input === null) return own<AnyOutput>(definition?.outputs, port)?.kind;
  const kind = own<AnyInput>(definition?.inputs, input)?.kind;
  return kind === "shape" ? undefined : kind;
}

/** Null when there is no such port. */
export function carriedBy(
  definition: AnyNode | undefined,
  port: string,
  { inputs, outputs }: Pick<Remembered, "inputs" | "outputs">,
): { kind: PortKind; value: unknown } | null {
  const kind = carriedKind(definition, port);
  if (!kind) return null;
  const input = settingPort(port);
  if (input === null) return { kind, value: outputs[port] };
  return { kind, value: fromInput(own<AnyInput>(definition?.inputs, input) as AnyInput, inputs[input]) };
}

const asValue = (part: unknown): Value => (isValue(part) ? part : constant(part as number));

/** A resolved input as an output would have it: fields, degrees, yes and no as 1 and 0. */
function fromInput({ kind, unit }: AnyInput, resolved: unknown): unknown {
  switch (kind) {
    case "number":
      return unit === "°" ? scaleBy(asValue(resolved), constant(1 / RADIANS)) : asValue(resolved);
    case "vector":
    case "rotation":
    case "color":
      return (resolved as readonly unknown[]).every(isValue)
        ? resolved
        : (resolved as readonly unknown[]).map(asValue);
    case "toggle":
      return constant(resolved ? 1 : 0);
    default:
      return resolved;
  }
}
