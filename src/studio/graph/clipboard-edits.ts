/** Nodes as text and back: a copy is a small piece, so that it can be pasted anywhere, read, kept and sent. */
import { bringCapsules, capsulesOf, renamedNode } from "@/core/capsules/carry";
import { definitionOf, isBorderType } from "@/core/capsules/definitions";
import type { Edit } from "@/core/document/edits";
import { faultsText } from "@/core/document/fault";
import { parseAddress } from "@/core/document/links";
import { numbered } from "@/core/document/numbered";
import { readDocument, writeDocument } from "@/core/document/read";
import {
  type AssetEntry,
  blankDocument,
  type Capsule,
  type GraphNode,
  type PieceDocument,
} from "@/core/document/schema";
import { copiesEdit } from "./graph-edits";

/** Some nodes with the links between them and the files and capsules that they use, as a piece. */
export function pieceOfNodes(document: PieceDocument, chosen: ReadonlySet<string>): PieceDocument {
  // The border of a capsule belongs to it.
  const nodes = document.graph.nodes.filter((node) => chosen.has(node.id) && !isBorderType(node.type));
  const capsules = capsulesOf(document.capsules, nodes);
  const links = document.graph.links.filter((link) =>
    [link.from, link.to].every((end) => nodes.some(({ id }) => id === parseAddress(end).node)),
  );
  const all = [...nodes, ...Object.values(capsules).flatMap(({ graph }) => graph.nodes)];
  const used = new Set([
    ...all.flatMap((node) => assetsOf(document, node)),
    ...Object.values(capsules).flatMap(defaultAssets),
  ]);
  const assets = Object.fromEntries(Object.entries(document.assets).filter(([name]) => used.has(name)));
  return { ...blankDocument(document.name), graph: { nodes, links }, capsules, assets };
}

export const nodesAsText = (document: PieceDocument, chosen: ReadonlySet<string>): string =>
  writeDocument(pieceOfNodes(document, chosen));

export type Pasted =
  | { readonly ok: true; readonly ids: readonly string[]; readonly edit: Edit }
  | { readonly ok: false; readonly what: string };

/** The nodes of a text of a piece, around a place of the graph, with files under names that are free. */
export function pasteEdit(document: PieceDocument, text: string, middle: readonly [number, number]): Pasted {
  const read = readDocument(text);
  if (!read.ok) {
    const what = `What was pasted holds no nodes. ${faultsText(read.faults.slice(0, 1))}`;
    return { ok: false, what };
  }
  return bringIn(document, read.document, middle);
}

/** The nodes of a piece with their files and capsules, around a place of the graph. */
export function bringIn(
  document: PieceDocument,
  { graph, assets, capsules }: PieceDocument,
  middle: readonly [number, number],
): Pasted {
  if (graph.nodes.length === 0) return { ok: false, what: "The piece that was pasted has no nodes." };
  const names = namesFor(document, assets);
  const source = { ...document, capsules };
  const needed = capsulesOf(capsules, graph.nodes);
  const own = Object.fromEntries(
    Object.entries(needed).map(([name, capsule]) => [name, capsuleWithAssets(source, capsule, names)]),
  );
  const brought = bringCapsules(document.capsules, own);
  const nodes = graph.nodes.map((node) => renamedNode(withAssets(source, node, names), brought.names));
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
  return {
    ok: true,
    ids: copies.ids,
    edit: { kind: "several", edits: [...files, ...brought.edits, copies.edit] },
  };
}

type Capsules = Pick<PieceDocument, "capsules">;

const assetInputs = (document: Capsules, node: GraphNode): string[] =>
  Object.entries<{ kind: string }>(definitionOf(document, node.type)?.inputs ?? {})
    .filter(([, { kind }]) => kind === "asset")
    .map(([name]) => name);

const assetsOf = (document: Capsules, node: GraphNode): string[] =>
  assetInputs(document, node).flatMap((input) =>
    typeof node.set[input] === "string" ? [node.set[input]] : [],
  );

/** Files that a capsule names where an instance names none. */
const defaultAssets = ({ inputs }: Capsule): string[] =>
  inputs.flatMap((input) =>
    input.kind === "asset" && typeof input.default === "string" ? [input.default] : [],
  );

const capsuleWithAssets = (
  document: Capsules,
  capsule: Capsule,
  names: ReadonlyMap<string, string>,
): Capsule => ({
  ...capsule,
  inputs: capsule.inputs.map((input) =>
    input.kind === "asset" && typeof input.default === "string"
      ? { ...input, default: names.get(input.default) ?? input.default }
      : input,
  ),
  graph: {
    ...capsule.graph,
    nodes: capsule.graph.nodes.map((node) => withAssets(document, node, names)),
  },
});

/** The name here of each asset there: the same file's, else its own or the next one that is free. */
function namesFor(
  document: PieceDocument,
  assets: Readonly<Record<string, AssetEntry>>,
): ReadonlyMap<string, string> {
  const taken = new Map(Object.entries(document.assets).map(([name, { hash }]) => [name, hash]));
  const names = new Map<string, string>();
  for (const [name, { hash }] of Object.entries(assets)) {
    const there = [...taken].find(([, other]) => other === hash)?.[0];
    const own = there ?? numbered(new Set(taken.keys()), name);
    taken.set(own, hash);
    names.set(name, own);
  }
  return names;
}

function withAssets(document: Capsules, node: GraphNode, names: ReadonlyMap<string, string>): GraphNode {
  const set = { ...node.set };
  for (const input of assetInputs(document, node)) {
    const name = set[input];
    if (typeof name === "string") set[input] = names.get(name) ?? name;
  }
  return { ...node, set };
}
