/**
 * Edits of a document as data: a closed set of changes, applied by one pure function that also returns the
 * inverse. Applying an edit and then its inverse gives the same bytes.
 */
import type { Setting } from "../nodes/ports";
import { parseAddress } from "./links";
import type { AssetEntry, Dial, GraphNode, Link, PieceDocument, PieceSettings, View } from "./schema";

/** Something at a place in a list, so that undoing a removal puts it back where it was. */
interface Placed<T> {
  readonly item: T;
  readonly index: number;
}

export type Edit =
  /** `value` undefined returns the input to its default. */
  | { readonly kind: "set-input"; readonly node: string; readonly input: string; readonly value?: Setting }
  | { readonly kind: "set-bypass"; readonly node: string; readonly bypass: boolean }
  | { readonly kind: "move-nodes"; readonly to: Readonly<Record<string, readonly [number, number]>> }
  | {
      readonly kind: "add";
      readonly nodes?: readonly Placed<GraphNode>[];
      readonly links?: readonly Placed<Link>[];
      readonly dials?: readonly Placed<Dial>[];
    }
  | {
      readonly kind: "remove";
      readonly nodes?: readonly string[];
      readonly links?: readonly Link[];
      readonly dials?: readonly Dial[];
    }
  | { readonly kind: "set-settings"; readonly settings: Partial<PieceSettings> }
  | { readonly kind: "set-name"; readonly name: string }
  | { readonly kind: "set-view"; readonly view?: View }
  | { readonly kind: "set-asset"; readonly name: string; readonly asset?: AssetEntry }
  /** The whole document, as when an earlier version is opened. */
  | { readonly kind: "replace"; readonly document: PieceDocument }
  | { readonly kind: "several"; readonly edits: readonly Edit[] };

export interface Edited {
  readonly document: PieceDocument;
  readonly inverse: Edit;
}

/** @throws Error when the edit names a node, link or dial that is not there: a fault of the caller. */
export function applyEdit(document: PieceDocument, edit: Edit): Edited {
  switch (edit.kind) {
    case "set-input": {
      const node = findNode(document, edit.node);
      const before = node.set[edit.input];
      return {
        document: replaceNode(document, { ...node, set: withKey(node.set, edit.input, edit.value) }),
        inverse: { ...edit, value: before },
      };
    }
    case "set-bypass": {
      const { bypass, ...node } = findNode(document, edit.node);
      return {
        document: replaceNode(document, (edit.bypass ? { ...node, bypass: true } : node) as GraphNode),
        inverse: { ...edit, bypass: bypass ?? false },
      };
    }
    case "move-nodes": {
      const before: Record<string, readonly [number, number]> = {};
      const nodes = document.graph.nodes.map((node) => {
        const to = edit.to[node.id];
        if (!to) return node;
        before[node.id] = node.at;
        return { ...node, at: [to[0], to[1]] as [number, number] };
      });
      return { document: withGraph(document, { nodes }), inverse: { kind: "move-nodes", to: before } };
    }
    case "add": {
      const { nodes, links } = document.graph;
      return {
        document: {
          ...withGraph(document, {
            nodes: insert(nodes, edit.nodes),
            links: insert(links, edit.links),
          }),
          dials: insert(document.dials, edit.dials),
        },
        inverse: {
          kind: "remove",
          nodes: edit.nodes?.map((placed) => placed.item.id),
          links: edit.links?.map((placed) => placed.item),
          dials: edit.dials?.map((placed) => placed.item),
        },
      };
    }
    case "remove":
      return remove(document, edit);
    case "set-settings": {
      const before = Object.fromEntries(
        Object.keys(edit.settings).map((key) => [key, document.settings[key]]),
      ) as Partial<PieceSettings>;
      return {
        document: { ...document, settings: { ...document.settings, ...edit.settings } },
        inverse: { kind: "set-settings", settings: before },
      };
    }
    case "set-name":
      return {
        document: { ...document, name: edit.name },
        inverse: { kind: "set-name", name: document.name },
      };
    case "set-view": {
      const { view, ...rest } = document;
      return {
        document: (edit.view ? { ...rest, view: edit.view } : rest) as PieceDocument,
        inverse: { kind: "set-view", view },
      };
    }
    case "set-asset":
      return {
        document: { ...document, assets: withKey(document.assets, edit.name, edit.asset) },
        inverse: { ...edit, asset: document.assets[edit.name] },
      };
    case "replace":
      return { document: edit.document, inverse: { kind: "replace", document } };
    case "several": {
      let current = document;
      const inverses: Edit[] = [];
      for (const part of edit.edits) {
        const edited = applyEdit(current, part);
        current = edited.document;
        inverses.unshift(edited.inverse);
      }
      return { document: current, inverse: { kind: "several", edits: inverses } };
    }
  }
}

/**
 * The edit that removes nodes together with their links and dials.
 */
export function removalOf(document: PieceDocument, nodes: ReadonlySet<string>): Edit {
  return {
    kind: "remove",
    nodes: document.graph.nodes.filter((n) => nodes.has(n.id)).map((n) => n.id),
    links: document.graph.links.filter(
      (link) => nodes.has(parseAddress(link.from).node) || nodes.has(parseAddress(link.to).node),
    ),
    dials: document.dials.filter((dial) => nodes.has(parseAddress(dial.input).node)),
  };
}

/** The edit that adds one link; on an input that takes one link, the link it had is removed. */
export function linkEdit(document: PieceDocument, link: Link, many: boolean): Edit {
  const present = document.graph.links.filter((l) => l.to === link.to && (!many || l.from === link.from));
  return {
    kind: "several",
    edits: [
      ...(present.length > 0 ? [{ kind: "remove", links: present } as const] : []),
      {
        kind: "add",
        links: [{ item: link, index: document.graph.links.length - present.length }],
      },
    ],
  };
}

/** An id for a new node: the type, with a number when it is taken. */
export function freshId(document: PieceDocument, type: string): string {
  const taken = new Set(document.graph.nodes.map((node) => node.id));
  if (!taken.has(type)) return type;
  for (let i = 2; ; i++) if (!taken.has(`${type}-${i}`)) return `${type}-${i}`;
}

function remove(document: PieceDocument, edit: Extract<Edit, { kind: "remove" }>): Edited {
  const nodeIds = new Set(edit.nodes);
  const nodes = extract(document.graph.nodes, (node) => nodeIds.delete(node.id));
  const links = extract(document.graph.links, matcher(edit.links, sameLink));
  const dials = extract(
    document.dials,
    matcher(edit.dials, (a, b) => a.input === b.input && a.label === b.label),
  );
  return {
    document: { ...withGraph(document, { nodes: nodes.kept, links: links.kept }), dials: dials.kept },
    inverse: { kind: "add", nodes: nodes.taken, links: links.taken, dials: dials.taken },
  };
}

const sameLink = (a: Link, b: Link): boolean => a.from === b.from && a.to === b.to;

/** A test that is true once for each wanted item. */
function matcher<T>(wanted: readonly T[] | undefined, same: (a: T, b: T) => boolean): (item: T) => boolean {
  const left = [...(wanted ?? [])];
  return (item) => {
    const at = left.findIndex((w) => same(w, item));
    if (at >= 0) left.splice(at, 1);
    return at >= 0;
  };
}

function extract<T>(list: readonly T[], wanted: (item: T) => boolean): { kept: T[]; taken: Placed<T>[] } {
  const kept: T[] = [];
  const taken: Placed<T>[] = [];
  list.forEach((item, index) => {
    if (wanted(item)) taken.push({ item, index });
    else kept.push(item);
  });
  return { kept, taken };
}

/** Inserts in ascending order of index, which is the order `extract` gives, so that places come out right. */
function insert<T>(list: T[], placed: readonly Placed<T>[] | undefined): T[] {
  if (!placed || placed.length === 0) return list;
  const result = [...list];
  for (const { item, index } of placed) result.splice(index, 0, item);
  return result;
}

function withKey<T>(
  record: Readonly<Record<string, T>>,
  key: string,
  value: T | undefined,
): Record<string, T> {
  const { [key]: _old, ...rest } = record;
  return value === undefined ? rest : { ...rest, [key]: value };
}

const withGraph = (document: PieceDocument, graph: Partial<PieceDocument["graph"]>): PieceDocument => ({
  ...document,
  graph: { ...document.graph, ...graph },
});

function findNode(document: PieceDocument, id: string): GraphNode {
  const node = document.graph.nodes.find((n) => n.id === id);
  if (!node) throw new Error(`There is no node "${id}".`);
  return node;
}

const replaceNode = (document: PieceDocument, node: GraphNode): PieceDocument =>
  withGraph(document, { nodes: document.graph.nodes.map((n) => (n.id === node.id ? node : n)) });
