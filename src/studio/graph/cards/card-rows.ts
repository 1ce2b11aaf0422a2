/** Which inputs a card shows: what was touched. The rest is folded away until the card is opened; the drawer holds all of it. */
import { definitionOf, parseCapsuleType } from "@/core/capsules/definitions";
import { indexGraph, parseAddress } from "@/core/document/links";
import type { GraphNode, PieceDocument } from "@/core/document/schema";
import type { AnyInput, AnyNode } from "@/core/nodes/define";
import type { Setting } from "@/core/nodes/ports";
import { mainShapes } from "./main-shapes";

export type Row = readonly [string, AnyInput];

export interface CardRows {
  readonly shown: readonly Row[];
  /** How many are folded away. */
  readonly more: number;
}

/** What every input is set to, its default where it is not. */
export function settingsOf(
  definition: AnyNode,
  set: Readonly<Record<string, Setting>>,
): Record<string, Setting> {
  const settings: Record<string, Setting> = {};
  for (const [name, input] of Object.entries(definition.inputs as Record<string, AnyInput>))
    settings[name] = set[name] ?? input.default;
  return settings;
}

/** Inputs whose condition holds, and those that are linked all the same. */
export function visibleInputs(
  definition: AnyNode,
  settings: Readonly<Record<string, Setting>>,
  linked: ReadonlySet<string>,
): Row[] {
  return Object.entries(definition.inputs as Record<string, AnyInput>).filter(
    ([name, { shownWhen }]) =>
      !shownWhen ||
      linked.has(name) ||
      linked.has(shownWhen.input) ||
      shownWhen.is.includes(settings[shownWhen.input]),
  );
}

/**
 * Shapes that the node works on, come or not; inputs that are linked, keyed, a dial, or set. What is brought back to its default is not set.
 * @param dials names of the node's inputs that are dials @param open everything is shown
 */
export function cardRows(
  definition: AnyNode,
  { set, keys }: Pick<GraphNode, "set" | "keys">,
  linked: ReadonlySet<string>,
  dials: ReadonlySet<string>,
  open: boolean,
): CardRows {
  // The ports of a capsule's own inputs leave it; what comes out of it is linked by whoever builds it.
  if (parseCapsuleType(definition.type)?.role === "inputs-of") return { shown: [], more: 0 };
  const all = visibleInputs(definition, settingsOf(definition, set), linked);
  const main = mainShapes(definition);
  const isTouched = ([name]: Row) =>
    main.includes(name) ||
    linked.has(name) ||
    dials.has(name) ||
    keys?.[name] !== undefined ||
    set[name] !== undefined;
  const shown = open ? all : all.filter(isTouched);
  return { shown, more: all.length - shown.length };
}

/** Names of a node's inputs that are dials of the piece; none inside a capsule. */
export const dialsOf = ({ dials }: Pick<PieceDocument, "dials">, node: string): ReadonlySet<string> =>
  new Set(dials.map(({ input }) => parseAddress(input)).flatMap((at) => (at.node === node ? [at.port] : [])));

/** Rows of a node's card as the document has it; null for an unknown type. */
export function rowsIn(document: PieceDocument, id: string): CardRows | null {
  const index = indexGraph(document.graph);
  const node = index.nodes.get(id);
  const definition = node && definitionOf(document, node.type);
  if (!node || !definition) return null;
  const linked = new Set(index.into.get(id)?.keys() ?? []);
  return cardRows(definition, node, linked, dialsOf(document, id), false);
}
