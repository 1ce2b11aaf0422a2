/** Taking the nodes of an instance out of its capsule, as an edit. The piece works out the same before and after. */
import { type Edit, freshId, removalOf } from "../document/edits";
import { joinAddress, parseAddress } from "../document/links";
import type { Capsule, Dial, GraphNode, Key, Link, PieceDocument, Track } from "../document/schema";
import { withTracks } from "../keys/track";
import type { PortKind, Setting } from "../nodes/ports";
import { capsuleNamed, definitionOf, parseCapsuleType } from "./definitions";
import { middleOf } from "./middle";

export type Unpacked =
  | { readonly ok: true; readonly edit: Edit; readonly nodes: readonly string[] }
  | { readonly ok: false; readonly what: string };

/** The nodes of an instance in its place, with links and values as they reach them. */
export function unpackEdit(document: PieceDocument, instance: string): Unpacked {
  const node = document.graph.nodes.find(({ id }) => id === instance);
  const parsed = node && parseCapsuleType(node.type);
  const capsule = parsed?.role === "capsule" ? capsuleNamed(document.capsules, parsed.name) : undefined;
  if (!node || !parsed || !capsule) return { ok: false, what: "Choose one capsule to unpack." };
  if (capsule.stepLoop)
    return {
      ok: false,
      what: `"${capsule.title}" is a Step loop: what comes back in it has no place outside. Open it and switch that off first.`,
    };
  const border = (role: string) =>
    capsule.graph.nodes.find(({ type }) => type === `${role}:${parsed.name}`)?.id;
  const [entry, exit] = [border("inputs-of"), border("outputs-of")];
  const inner = capsule.graph.nodes.filter(({ id }) => id !== entry && id !== exit);
  if (inner.length === 0) return { ok: false, what: `"${capsule.title}" has no nodes to take out.` };

  const [x, y] = middleOf(inner);
  const ids = new Map<string, string>();
  let growing = document;
  const nodes = inner.map((one): GraphNode => {
    const id = freshId(growing, one.id);
    ids.set(one.id, id);
    const at: [number, number] = [one.at[0] - x + node.at[0], one.at[1] - y + node.at[1]];
    const copy = { ...one, id, at };
    growing = { ...growing, graph: { ...growing.graph, nodes: [...growing.graph.nodes, copy] } };
    return copy;
  });
  const renamed = (address: string) => {
    const end = parseAddress(address);
    return joinAddress(ids.get(end.node) ?? end.node, end.port);
  };
  const into = (port: string) =>
    document.graph.links.filter((link) => link.to === joinAddress(instance, port));
  const links: Link[] = [];
  const sources = new Map<string, string[]>();
  const fed = new Map<string, string[]>();
  for (const link of capsule.graph.links) {
    const [from, to] = [parseAddress(link.from), parseAddress(link.to)];
    const arrives = from.node === entry ? into(from.port).map((outer) => outer.from) : [renamed(link.from)];
    if (to.node === exit) sources.set(to.port, [...(sources.get(to.port) ?? []), ...arrives]);
    else {
      for (const source of arrives) links.push({ ...link, from: source, to: renamed(link.to) });
      if (from.node === entry) fed.set(from.port, [...(fed.get(from.port) ?? []), link.to]);
    }
  }
  for (const link of document.graph.links) {
    const from = parseAddress(link.from);
    if (from.node !== instance) continue;
    for (const source of sources.get(from.port) ?? []) links.push({ ...link, from: source });
  }
  const settled = nodes.map((copy, i) => {
    const values = arrivingValues(document, inner[i], capsule, node, fed, into);
    const tracks = arrivingTracks(document, inner[i], capsule, node, fed, into);
    return withTracks({ ...copy, set: { ...copy.set, ...values } }, { ...copy.keys, ...tracks });
  });
  const removal = removalOf(document, new Set([instance])) as Extract<Edit, { kind: "remove" }>;
  const edits: Edit[] = [
    { ...removal, dials: [] },
    {
      kind: "add",
      nodes: settled.map((item, i) => ({ item, index: document.graph.nodes.length - 1 + i })),
      links: links.map((item, i) => ({
        item,
        index: document.graph.links.length - (removal.links?.length ?? 0) + i,
      })),
    },
  ];
  if (removal.dials?.length) {
    const dials = document.dials.flatMap((dial): Dial[] => {
      const at = parseAddress(dial.input);
      if (at.node !== instance) return [dial];
      const [first] = fed.get(at.port) ?? [];
      return first ? [{ ...dial, input: renamed(first) }] : [];
    });
    edits.push({ kind: "set-dials", dials });
  }
  return { ok: true, edit: { kind: "several", edits }, nodes: settled.map(({ id }) => id) };
}

/** A value of a port as an input inside takes it; undefined when it does not. */
function fitted(value: Setting, kind: PortKind, takes: PortKind | undefined): Setting | undefined {
  if (takes === kind) return value;
  return takes === "vector" && typeof value === "number" ? [value, value, value] : undefined;
}

/** The keys that an instance gives to inputs of a node inside. */
function arrivingTracks(
  document: PieceDocument,
  inside: GraphNode,
  { inputs }: Capsule,
  instance: GraphNode,
  fed: ReadonlyMap<string, readonly string[]>,
  into: (port: string) => readonly Link[],
): Record<string, Track> {
  const tracks: Record<string, Track> = {};
  const definition = definitionOf(document, inside.type);
  for (const { name, kind } of inputs) {
    const track = instance.keys?.[name];
    if (!track || into(name).length > 0) continue;
    for (const to of fed.get(name) ?? []) {
      const { node, port } = parseAddress(to);
      if (node !== inside.id) continue;
      const keys = track.keys.flatMap((key): Key[] => {
        const value = fitted(key.value, kind, definition?.inputs[port]?.kind);
        return value === undefined ? [] : [{ ...key, value }];
      });
      if (keys.length > 0) tracks[port] = { ...track, keys };
    }
  }
  return tracks;
}

/** The values that an instance gives to inputs of a node inside. */
function arrivingValues(
  document: PieceDocument,
  inside: GraphNode,
  { inputs }: Capsule,
  instance: GraphNode,
  fed: ReadonlyMap<string, readonly string[]>,
  into: (port: string) => readonly Link[],
): Record<string, Setting> {
  const values: Record<string, Setting> = {};
  const definition = definitionOf(document, inside.type);
  for (const { name, kind, ...input } of inputs) {
    if (kind === "shape" || into(name).length > 0) continue;
    const value = instance.set[name] ?? input.default;
    for (const to of fed.get(name) ?? []) {
      const { node, port } = parseAddress(to);
      const takes = definition?.inputs[port]?.kind;
      if (node !== inside.id) continue;
      const fitting = fitted(value, kind, takes);
      if (fitting !== undefined) values[port] = fitting;
    }
  }
  return values;
}
