/** All that a node at any frame depends on, as text: what is before it, how it is set, keyed and linked, and the piece's settings. */
import type { FlatGraph } from "../capsules/flatten";
import { closedOrder } from "../capsules/loop-order";
import { indexGraph, orderFrom } from "../document/links";
import type { PieceDocument } from "../document/schema";
import type { AnyInput } from "../nodes/define";
import { type AssetLookup, assetMark } from "./options";

/** A node and all that it needs at one frame, sources first; the text is of what it needs at any. */
export interface Ancestry {
  readonly order: readonly string[];
  readonly text: string;
  /** Names of the files that are read. */
  readonly assets: readonly string[];
}

/** Flat graphs are made once for a document, and never change. */
const known = new WeakMap<FlatGraph, Map<string, Ancestry>>();

export function ancestryOf(flat: FlatGraph, { settings }: PieceDocument, id: string): Ancestry {
  let all = known.get(flat);
  if (!all) known.set(flat, (all = new Map()));
  let ancestry = all.get(id);
  if (!ancestry) all.set(id, (ancestry = traced(flat, settings, id)));
  return ancestry;
}

/** The text with the versions of files as they are now. */
export const ancestryKey = ({ text, assets }: Ancestry, lookup: AssetLookup): string =>
  text + assets.map((name) => assetMark(lookup, name)).join("|");

function traced(flat: FlatGraph, settings: PieceDocument["settings"], id: string): Ancestry {
  const index = indexGraph(flat.graph);
  const found = orderFrom(index, [id]);
  const order = found.ok ? found.order : [id];
  const assets: string[] = [];
  const { fps, first, last, seed } = settings;
  const parts = [JSON.stringify([fps, first, last, seed])];
  // What comes back in a Step loop depends on all that is in it.
  for (const name of closedOrder(flat, [id])) {
    const node = index.nodes.get(name);
    const definition = flat.definitions.get(name);
    if (!node) continue;
    parts.push(JSON.stringify([name, node.type, definition?.variant, node.set, node.keys, node.bypass]));
    for (const [input, links] of index.into.get(name) ?? [])
      for (const { from } of links) parts.push(`${input}<${from.node}.${from.port}`);
    for (const [input, declared] of Object.entries((definition?.inputs ?? {}) as Record<string, AnyInput>))
      if (declared.kind === "asset") assets.push(String(node.set[input] ?? declared.default ?? ""));
  }
  return { order, text: parts.join("\n"), assets };
}
