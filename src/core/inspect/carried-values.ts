/** What an output carries, and the elements on which a field among them is looked at. */
import type { FlatGraph } from "../capsules/flatten";
import { carriedBy } from "../evaluate/carried";
import type { ResultMemory } from "../evaluate/memory";
import { isValue, type Value } from "../fields/expression";
import type { Domain } from "../geometry/column";
import { DOMAINS, placedName } from "../geometry/domains";
import type { Shape } from "../geometry/shape";
import type { PortKind } from "../nodes/ports";
import { domainsOfUse } from "./summaries";

export type CarriedValues =
  | { readonly kind: "shape"; readonly shape: Shape }
  | {
      readonly kind: "field";
      readonly of: PortKind;
      readonly values: readonly Value[];
      readonly domain: Domain | undefined;
    }
  /** A text, a choice, a gradient … */
  | { readonly kind: "other"; readonly of: PortKind; readonly value: unknown };

/** Null when the node has not run, or has no such port. */
export function carriedAt(
  flat: FlatGraph,
  memory: ResultMemory,
  node: string,
  port: string,
): CarriedValues | null {
  const known = memory.get(node);
  const carried = known && carriedBy(flat.definitions.get(node), port, known);
  if (!carried) return null;
  const { kind, value } = carried;
  if (kind === "shape")
    return { kind: "shape", shape: Array.isArray(value) ? (value[0] ?? {}) : (value as Shape) };
  const values = isValue(value) ? [value] : Array.isArray(value) && value.every(isValue) ? value : null;
  if (!values) return { kind: "other", of: kind, value };
  return { kind: "field", of: kind, values, domain: domainsOfUse(flat, memory).get(node) };
}

/**
 * The elements of a shape that adjusting nodes change: sites, else the points of its mesh, else of its curves.
 * @param like a shape whose kind of elements is wanted, whatever else there is
 */
export function elementsIn(shape: Shape | undefined, like = shape): Domain | undefined {
  const name = like && placedName(like);
  const found = name && shape && DOMAINS[name].of(shape);
  return found && found.count > 0 ? found : undefined;
}
