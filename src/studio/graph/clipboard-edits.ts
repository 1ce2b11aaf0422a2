/** Nodes as text and back: a copy is a small piece, so that it can be pasted anywhere, read, kept and sent. */
import type { Edit } from "@/core/document/edits";
import { parseAddress } from "@/core/document/links";
import { readDocument, writeDocument } from "@/core/document/read";
import { type AssetEntry, blankDocument, type GraphNode, type PieceDocument } from "@/core/document/schema";
import { catalogue } from "@/core/nodes/catalogue";
import { copiesEdit } from "./graph-edits";

/** Some nodes with the links between them and the files that they use, as the text of a piece. */
export function nodesAsText(document: PieceDocument, chosen: ReadonlySet<string>): string {
  const nodes = document.graph.nodes.filter((node) => chosen.has(node.id));
  const links = document.graph.links.filter((link) =>
    [link.from, link.to].every((end) => chosen.has(parseAddress(end).node)),
  );
  const used = new Set(nodes.flatMap(assetsOf));
  const assets = Object.fromEntries(Object.entries(document.assets).filter(([name]) => used.has(name)));
  return writeDocument({ ...blankDocument(document.name), graph: { nodes, links }, assets });
}

export type Pasted =
  | { readonly ok: true; readonly ids: readonly string[]; readonly edit: Edit }
  | { readonly ok: false; readonly what: string };

/** The nodes of a text of a piece, around a place of the graph, with files under names that are free. */
export function pasteEdit(document: PieceDocument, text: string, middle: readonly [number, number]): Pasted {
  const read = readDocument(text);
  if (!read.ok) {
    const [fault] = read.faults;
    const where = fault?.where ? `${fault.where}: ` : "";
    return { ok: false, what: `What was pasted holds no nodes. ${where}${fault?.what ?? ""}`.trim() };
  }
  const { graph, assets } = read.document;
  if (graph.nodes.length === 0) return { ok: false, what: "The piece that was pasted has no nodes." };
  const names = namesFor(document, assets);
  const nodes = graph.nodes.map((node) => withAssets(node, names));
  const ids = new Set(nodes.map((node) => node.id));
  const links = graph.links.filter((link) =>
    [link.from, link.to].every((end) => ids.has(parseAddress(end).node)),
  );
  const span = (axis: 0 | 1) => {
    const at = nodes.map((node) => node.at[axis]);
    return (Math.min(...at) + Math.max(...at)) / 2;
  };
  const copies = copiesEdit(document, nodes, links, [middle[0] - span(0), middle[1] - span(1)]);
  const files = Object.entries(assets).flatMap(([name, asset]): Edit[] => {
    const own = names.get(name) as string;
    return document.assets[own] ? [] : [{ kind: "set-asset", name: own, asset }];
  });
  return { ok: true, ids: copies.ids, edit: { kind: "several", edits: [...files, copies.edit] } };
}

const assetInputs = (node: GraphNode): string[] =>
  Object.entries<{ kind: string }>(catalogue.get(node.type)?.inputs ?? {})
    .filter(([, { kind }]) => kind === "asset")
    .map(([name]) => name);

const assetsOf = (node: GraphNode): string[] =>
  assetInputs(node).flatMap((input) => (typeof node.set[input] === "string" ? [node.set[input]] : []));

/** The name here of each asset there: the same file's, else its own or the next one that is free. */
function namesFor(
  document: PieceDocument,
  assets: Readonly<Record<string, AssetEntry>>,
): ReadonlyMap<string, string> {
  const taken = new Map(Object.entries(document.assets).map(([name, { hash }]) => [name, hash]));
  const names = new Map<string, string>();
  for (const [name, { hash }] of Object.entries(assets)) {
    let own = [...taken].find(([, other]) => other === hash)?.[0] ?? name;
    for (let n = 2; taken.has(own) && taken.get(own) !== hash; n++) own = `${name}-${n}`;
    taken.set(own, hash);
    names.set(name, own);
  }
  return names;
}

function withAssets(node: GraphNode, names: ReadonlyMap<string, string>): GraphNode {
  const set = { ...node.set };
  for (const input of assetInputs(node)) {
    const name = set[input];
    if (typeof name === "string") set[input] = names.get(name) ?? name;
  }
  return { ...node, set };
}
