/**
 * Edits of a document as data: a closed set of changes, applied by one pure function that also returns the
 * inverse. Applying an edit and then its inverse gives the same bytes.
 */
import { withTracks } from "../keys/track";
import type { Setting } from "../nodes/ports";
import { parseAddress } from "./links";
import { numbered } from "./numbered";
import type {
  AssetEntry,
  Capsule,
  Dial,
  Graph,
  GraphNode,
  KeptFit,
  Link,
  Note,
  PieceDocument,
  PieceSettings,
  Snapshot,
  Track,
  View,
} from "./schema";

/** Something at a place in a list, so that undoing a removal puts it back where it was. */
interface Placed<T> {
  readonly item: T;
  readonly index: number;
}

export type Edit =
  /** `value` undefined returns the input to its default. */
  | { readonly kind: "set-input"; readonly node: string; readonly input: string; readonly value?: Setting }
  /** Values over time of an input; undefined takes them away. */
  | { readonly kind: "set-track"; readonly node: string; readonly input: string; readonly track?: Track }
  | { readonly kind: "set-bypass"; readonly node: string; readonly bypass: boolean }
  | { readonly kind: "set-type"; readonly node: string; readonly type: string }
  /** Limits of one input's slider; undefined returns to the declared ones. */
  | {
      readonly kind: "set-limits";
      readonly node: string;
      readonly input: string;
      readonly limits?: readonly [number, number];
    }
  /** How a node's range is kept fitted; undefined leaves it as it is. */
  | { readonly kind: "set-fit"; readonly node: string; readonly fit?: KeptFit }
  /** Places that a link is led through. */
  | { readonly kind: "set-via"; readonly link: Link; readonly via?: readonly (readonly [number, number])[] }
  | { readonly kind: "move-nodes"; readonly to: Readonly<Record<string, readonly [number, number]>> }
  | {
      readonly kind: "add";
      readonly nodes?: readonly Placed<GraphNode>[];
      readonly links?: readonly Placed<Link>[];
      readonly dials?: readonly Placed<Dial>[];
      readonly notes?: readonly Placed<Note>[];
    }
  | {
      readonly kind: "remove";
      readonly nodes?: readonly string[];
      readonly links?: readonly Link[];
      readonly dials?: readonly Dial[];
      readonly notes?: readonly string[];
    }
  /** A note area in place of the one of the same id. */
  | { readonly kind: "set-note"; readonly note: Note }
  | { readonly kind: "set-dials"; readonly dials: readonly Dial[] }
  | { readonly kind: "set-snapshots"; readonly snapshots?: readonly Snapshot[] }
  /** Adds, replaces or (undefined) removes a capsule. */
  | { readonly kind: "set-capsule"; readonly name: string; readonly capsule?: Capsule }
  /** An edit inside a capsule: its graph stands for the piece's. */
  | { readonly kind: "within"; readonly capsule: string; readonly edit: Edit }
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
    case "set-track": {
      const node = findNode(document, edit.node);
      const { keys: before = {} } = node;
      return {
        document: replaceNode(document, withTracks(node, withKey(before, edit.input, edit.track))),
        inverse: { ...edit, track: before[edit.input] },
      };
    }
    case "set-bypass": {
      const { bypass, ...node } = findNode(document, edit.node);
      return {
        document: replaceNode(document, (edit.bypass ? { ...node, bypass: true } : node) as GraphNode),
        inverse: { ...edit, bypass: bypass ?? false },
      };
    }
    case "set-type": {
      const node = findNode(document, edit.node);
      return {
        document: replaceNode(document, { ...node, type: edit.type }),
        inverse: { ...edit, type: node.type },
      };
    }
    case "set-limits": {
      const node = findNode(document, edit.node);
      const { [edit.input]: before, ...others } = node.limits ?? {};
      const limits = edit.limits ? { ...others, [edit.input]: [...edit.limits] as [number, number] } : others;
      const { limits: _old, ...bare } = node;
      return {
        document: replaceNode(
          document,
          (Object.keys(limits).length > 0 ? { ...bare, limits } : bare) as GraphNode,
        ),
        inverse: { ...edit, limits: before },
      };
    }
    case "set-fit": {
      const { fit: before, ...bare } = findNode(document, edit.node);
      return {
        document: replaceNode(document, (edit.fit ? { ...bare, fit: edit.fit } : bare) as GraphNode),
        inverse: { ...edit, fit: before },
      };
    }
    case "set-via": {
      const link = document.graph.links.find((l) => sameLink(l, edit.link));
      if (!link) throw new Error(`There is no link from "${edit.link.from}" to "${edit.link.to}".`);
      const { via: before, ...bare } = link;
      const via = edit.via?.map(([x, y]) => [x, y] as [number, number]);
      const led = (via && via.length > 0 ? { ...bare, via } : bare) as Link;
      return {
        document: withGraph(document, { links: document.graph.links.map((l) => (l === link ? led : l)) }),
        inverse: { ...edit, via: before },
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
    case "add":
      return add(document, edit);
    case "remove":
      return remove(document, edit);
    case "set-note": {
      const { notes = [] } = document.graph;
      const before = notes.find((note) => note.id === edit.note.id);
      if (!before) throw new Error(`There is no note area "${edit.note.id}".`);
      return {
        document: withNotes(
          document,
          notes.map((note) => (note === before ? edit.note : note)),
        ),
        inverse: { kind: "set-note", note: before },
      };
    }
    case "set-dials":
      return {
        document: { ...document, dials: [...edit.dials] },
        inverse: { kind: "set-dials", dials: document.dials },
      };
    case "set-snapshots": {
      const { snapshots: before, ...rest } = document;
      return {
        document: (edit.snapshots?.length
          ? { ...rest, snapshots: [...edit.snapshots] }
          : rest) as PieceDocument,
        inverse: { kind: "set-snapshots", snapshots: before },
      };
    }
    case "set-capsule":
      return {
        document: { ...document, capsules: withKey(document.capsules, edit.name, edit.capsule) },
        inverse: { ...edit, capsule: document.capsules[edit.name] },
      };
    case "within": {
      const { document: inner, inverse } = applyEdit(openCapsule(document, edit.capsule), edit.edit);
      return {
        document: closeCapsule(document, edit.capsule, inner),
        inverse: { kind: "within", capsule: edit.capsule, edit: inverse },
      };
    }
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
 * The piece as it is seen from inside a capsule: the capsule's graph for the piece's, and no dials, which are the piece's.
 * @throws Error when there is no such capsule
 */
export function openCapsule(document: PieceDocument, capsule: string): PieceDocument {
  const graph = Object.hasOwn(document.capsules, capsule) ? document.capsules[capsule].graph : undefined;
  if (!graph) throw new Error(`There is no capsule "${capsule}".`);
  return { ...document, graph, dials: [] };
}

function closeCapsule(document: PieceDocument, name: string, inner: PieceDocument): PieceDocument {
  const capsule = { ...inner.capsules[name], graph: inner.graph };
  return {
    ...inner,
    graph: document.graph,
    dials: document.dials,
    capsules: { ...inner.capsules, [name]: capsule },
  };
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

/** An id for a new node: the type, or the capsule's name in it, with a number when it is taken. */
export function freshId(document: PieceDocument, nodeType: string): string {
  // Types that this version does not know may be called anything.
  const plain = nodeType
    .replace(/^.*:/, "")
    .replace(/[^A-Za-z0-9_-]+/g, "-")
    .replace(/^[^A-Za-z]+/, "");
  return numbered(new Set(document.graph.nodes.map((node) => node.id)), plain || "node");
}

function add(document: PieceDocument, edit: Extract<Edit, { kind: "add" }>): Edited {
  const { nodes, links, notes = [] } = document.graph;
  const grown = {
    ...withGraph(document, { nodes: insert(nodes, edit.nodes), links: insert(links, edit.links) }),
    dials: insert(document.dials, edit.dials),
  };
  return {
    document: edit.notes?.length ? withNotes(grown, insert(notes, edit.notes)) : grown,
    inverse: {
      kind: "remove",
      nodes: edit.nodes?.map((placed) => placed.item.id),
      links: edit.links?.map((placed) => placed.item),
      dials: edit.dials?.map((placed) => placed.item),
      notes: edit.notes?.map((placed) => placed.item.id),
    },
  };
}

function remove(document: PieceDocument, edit: Extract<Edit, { kind: "remove" }>): Edited {
  const nodeIds = new Set(edit.nodes);
  const nodes = extract(document.graph.nodes, (node) => nodeIds.delete(node.id));
  const links = extract(document.graph.links, matcher(edit.links, sameLink));
  const dials = extract(
    document.dials,
    matcher(edit.dials, (a, b) => a.input === b.input && a.label === b.label),
  );
  const noteIds = new Set(edit.notes);
  const notes = extract(document.graph.notes ?? [], (note) => noteIds.delete(note.id));
  const shrunk = { ...withGraph(document, { nodes: nodes.kept, links: links.kept }), dials: dials.kept };
  return {
    document: notes.taken.length > 0 ? withNotes(shrunk, notes.kept) : shrunk,
    inverse: {
      kind: "add",
      nodes: nodes.taken,
      links: links.taken,
      dials: dials.taken,
      notes: notes.taken,
    },
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

const withGraph = (document: PieceDocument, graph: Partial<Graph>): PieceDocument => ({
  ...document,
  graph: { ...document.graph, ...graph },
});

/** A graph without note areas has no list of them, as before the first was made. */
function withNotes(document: PieceDocument, notes: Note[]): PieceDocument {
  const { notes: _old, ...graph } = document.graph;
  return { ...document, graph: (notes.length > 0 ? { ...graph, notes } : graph) as Graph };
}

function findNode(document: PieceDocument, id: string): GraphNode {
  const node = document.graph.nodes.find((n) => n.id === id);
  if (!node) throw new Error(`There is no node "${id}".`);
  return node;
}

const replaceNode = (document: PieceDocument, node: GraphNode): PieceDocument =>
  withGraph(document, { nodes: document.graph.nodes.map((n) => (n.id === node.id ? node : n)) });
