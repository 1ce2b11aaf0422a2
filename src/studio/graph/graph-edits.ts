/** Edits that the graph makes: adding nodes, linking them, removing what is selected. */
import { definitionOf, isBorderType } from "@/core/capsules/definitions";
import { type Edit, freshId, linkEdit, removalOf } from "@/core/document/edits";
import { type Address, indexGraph, joinAddress, parseAddress, wouldCycle } from "@/core/document/links";
import type { GraphNode, Link, PieceDocument } from "@/core/document/schema";
import { carriedKind } from "@/core/evaluate/carried";
import { canLink } from "@/core/evaluate/convert";
import type { AnyInput, AnyNode, AnyOutput } from "@/core/nodes/define";
import type { PortKind } from "@/core/nodes/ports";
import { firstSettings } from "./adder/first-settings";

export const typeOf = (document: PieceDocument, node: string): AnyNode | undefined =>
  definitionOf(document, indexGraph(document.graph).nodes.get(node)?.type ?? "");

export const stageOf = ({ graph }: PieceDocument): GraphNode | undefined =>
  graph.nodes.find(({ type }) => type === "stage");

/** Kind of a port by its address; undefined for unknown nodes and ports. */
export function portKind(
  document: PieceDocument,
  address: string,
  side: "from" | "to",
): PortKind | undefined {
  const { node, port } = parseAddress(address);
  const definition = typeOf(document, node);
  return side === "from" ? carriedKind(definition, port) : definition?.inputs[port]?.kind;
}

/** The free port at the border of a capsule: a link drawn to it makes a port. */
export const NEW_PORT = "new";

export function canConnect(document: PieceDocument, link: Link): boolean {
  const [start, end] = [parseAddress(link.from), parseAddress(link.to)];
  if (isBorder(document, start) || isBorder(document, end)) return canMakePort(document, start, end);
  const from = portKind(document, link.from, "from");
  const to = portKind(document, link.to, "to");
  if (!from || !to || !canLink(from, to)) return false;
  return !wouldCycle(indexGraph(document.graph), parseAddress(link.from).node, parseAddress(link.to).node);
}

/** Why a link cannot be made: it would close a ring, or what it carries does not fit. */
export function linkRefusal(
  document: PieceDocument,
  link: Link,
): { readonly kind: "ring"; readonly what: string } | { readonly kind: "kinds" } {
  const [from, to] = [parseAddress(link.from).node, parseAddress(link.to).node];
  return wouldCycle(indexGraph(document.graph), from, to)
    ? {
        kind: "ring",
        what: `“${from}” is made of “${to}”, so it cannot feed it: the two would wait for each other.`,
      }
    : { kind: "kinds" };
}

/** Nodes of a type that turn what leaves by one port into what another takes: their input and output for it. */
export function converting(
  document: PieceDocument,
  definition: AnyNode,
  { from, to }: Link,
): { readonly input: string; readonly output: string } | null {
  const input = fittingPort(document, definition, { address: from, end: "from" });
  const output = fittingPort(document, definition, { address: to, end: "to" });
  return input && output ? { input, output } : null;
}

/** Adds a node between two ports that do not fit each other. */
export function addBetweenEdit(
  document: PieceDocument,
  type: string,
  at: readonly [number, number],
  link: Link,
): { id: string; edit: Edit } | null {
  const definition = definitionOf(document, type);
  const ports = definition && converting(document, definition, link);
  if (!ports) return null;
  const { id, edit } = addNodeEdit(document, type, at);
  const into: Link = { from: link.from, to: joinAddress(id, ports.input) };
  const grown = { ...document, graph: { ...document.graph, links: [...document.graph.links, into] } };
  return {
    id,
    edit: {
      kind: "several",
      edits: [
        edit,
        { kind: "add", links: [{ item: into, index: document.graph.links.length }] },
        connectEdit(grown, { from: joinAddress(id, ports.output), to: link.to }),
      ],
    },
  };
}

/** The free port has this name only on nodes of the border. */
const isBorder = (document: PieceDocument, { node, port }: Address): boolean =>
  port === NEW_PORT && isBorderType(indexGraph(document.graph).nodes.get(node)?.type ?? "");

/** An input that is free, or any output. */
function canMakePort(document: PieceDocument, from: Address, to: Address): boolean {
  if (isBorder(document, from)) {
    const there = typeOf(document, to.node)?.inputs[to.port];
    return there !== undefined && !document.graph.links.some((l) => l.to === joinAddress(to.node, to.port));
  }
  return typeOf(document, from.node)?.outputs[from.port] !== undefined;
}

export function connectEdit(document: PieceDocument, link: Link): Edit {
  const { node, port } = parseAddress(link.to);
  return linkEdit(document, link, typeOf(document, node)?.inputs[port]?.many === true);
}

/** The first port of a node type that a link could be completed with: the main one of the same kind first. */
export function fittingPort(
  document: PieceDocument,
  definition: AnyNode,
  open: { address: string; end: "from" | "to" },
): string | undefined {
  const kind = portKind(document, open.address, open.end);
  if (!kind) return undefined;
  const ports: [string, AnyInput | AnyOutput][] = Object.entries(
    open.end === "from" ? definition.inputs : definition.outputs,
  );
  const fits = (other: PortKind) => (open.end === "from" ? canLink(kind, other) : canLink(other, kind));
  return (ports.find(([, p]) => p.kind === kind) ?? ports.find(([, p]) => fits(p.kind)))?.[0];
}

/** Adds a node, linked with an open link if one is given. Returns its id with the edit. */
export function addNodeEdit(
  document: PieceDocument,
  type: string,
  at: readonly [number, number],
  open?: { address: string; end: "from" | "to" },
): { id: string; edit: Edit } {
  const id = freshId(document, type);
  const add: Edit = {
    kind: "add",
    nodes: [
      {
        item: { id, type, at: [Math.round(at[0]), Math.round(at[1])], set: firstSettings(document, type) },
        index: document.graph.nodes.length,
      },
    ],
  };
  const definition = definitionOf(document, type);
  const port = open && definition && fittingPort(document, definition, open);
  if (!open || !port) return { id, edit: add };
  const own = joinAddress(id, port);
  const link: Link = open.end === "from" ? { from: open.address, to: own } : { from: own, to: open.address };
  return { id, edit: { kind: "several", edits: [add, connectEdit(document, link)] } };
}

/** Every link that could be made from or into a node, and is not there yet. */
export function linksOffered(document: PieceDocument, node: string): Link[] {
  const own = typeOf(document, node);
  if (!own) return [];
  const there = new Set(document.graph.links.map((link) => `${link.from}>${link.to}`));
  const outputs = (id: string) =>
    Object.keys(typeOf(document, id)?.outputs ?? {}).map((p) => joinAddress(id, p));
  const inputs = (id: string) =>
    Object.keys(typeOf(document, id)?.inputs ?? {}).map((p) => joinAddress(id, p));
  const others = document.graph.nodes.map((n) => n.id).filter((id) => id !== node);
  const pairs = (from: readonly string[], to: readonly string[]) =>
    from.flatMap((f) => to.map((t): Link => ({ from: f, to: t })));
  return [
    ...pairs(outputs(node), others.flatMap(inputs)),
    ...pairs(others.flatMap(outputs), inputs(node)),
  ].filter((link) => !there.has(`${link.from}>${link.to}`) && canConnect(document, link));
}

/** Removes nodes (with their links and dials) and links. The border of a capsule stays. */
export function removeEdit(
  document: PieceDocument,
  chosen: ReadonlySet<string>,
  links: readonly Link[],
): Edit {
  const nodes = withoutBorder(document, chosen);
  const removal = removalOf(document, nodes) as Extract<Edit, { kind: "remove" }>;
  const extra = links.filter((link) => !removal.links?.some((l) => l.from === link.from && l.to === link.to));
  return { ...removal, links: [...(removal.links ?? []), ...extra] };
}

/** Those of the chosen nodes that do not belong to the capsule that is open. */
export const withoutBorder = ({ graph }: PieceDocument, chosen: ReadonlySet<string>): ReadonlySet<string> =>
  new Set(graph.nodes.filter(({ id, type }) => chosen.has(id) && !isBorderType(type)).map(({ id }) => id));

/** Copies of nodes with the links between them and into them, a little lower if nothing else is asked for. */
export function duplicateEdit(
  document: PieceDocument,
  nodes: ReadonlySet<string>,
  by: readonly [number, number] = [40, 40],
): { ids: string[]; edit: Edit } {
  const copied = withoutBorder(document, nodes);
  const chosen = document.graph.nodes.filter((node) => copied.has(node.id));
  const links = document.graph.links.filter((link) => copied.has(parseAddress(link.to).node));
  return copiesEdit(document, chosen, links, by);
}

/**
 * Adds nodes under ids of their own, shifted, and links with them; ends of links at other nodes stay as they are.
 * Returns the new ids in the order of the nodes.
 */
export function copiesEdit(
  document: PieceDocument,
  nodes: readonly GraphNode[],
  links: readonly Link[],
  by: readonly [number, number],
): { ids: string[]; edit: Edit } {
  const ids = new Map<string, string>();
  let current = document;
  for (const node of nodes) {
    const id = freshId(current, node.type);
    ids.set(node.id, id);
    const at: [number, number] = [Math.round(node.at[0] + by[0]), Math.round(node.at[1] + by[1])];
    const copy = { ...node, id, at };
    current = { ...current, graph: { ...current.graph, nodes: [...current.graph.nodes, copy] } };
  }
  const renamed = (address: string): string => {
    const { node, port } = parseAddress(address);
    return joinAddress(ids.get(node) ?? node, port);
  };
  const first = document.graph.nodes.length;
  return {
    ids: [...ids.values()],
    edit: {
      kind: "add",
      nodes: current.graph.nodes.slice(first).map((item, i) => ({ item, index: first + i })),
      links: links.map((link, i) => ({
        item: { ...link, from: renamed(link.from), to: renamed(link.to) },
        index: document.graph.links.length + i,
      })),
    },
  };
}
