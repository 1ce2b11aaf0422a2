/** Edits of links: nodes put into them and pulled out again, places that they are led through. */
import type { Edit } from "@/core/document/edits";
import { joinAddress, parseAddress } from "@/core/document/links";
import type { Link, PieceDocument } from "@/core/document/schema";
import { canLink } from "@/core/evaluate/convert";
import type { AnyInput, AnyOutput } from "@/core/nodes/define";
import type { PortKind } from "@/core/nodes/ports";
import { portKind, removeEdit, typeOf, withoutBorder } from "../graph-edits";

/**
 * Puts a node that nothing is linked with into a link: what came from there passes through it. Null when it has no
 * input and output for that.
 */
export function insertEdit(document: PieceDocument, node: string, into: Link): Edit | null {
  const own = typeOf(document, node);
  const kind = portKind(document, into.from, "from");
  const wanted = portKind(document, into.to, "to");
  const linked = document.graph.links.some((link) =>
    [link.from, link.to].some((end) => parseAddress(end).node === node),
  );
  if (!own || !kind || !wanted || linked) return null;
  const first = (
    ports: Readonly<Record<string, AnyInput | AnyOutput>>,
    same: PortKind,
    fits: (k: PortKind) => boolean,
  ) =>
    (Object.entries(ports).find(([, p]) => p.kind === same) ??
      Object.entries(ports).find(([, p]) => fits(p.kind)))?.[0];
  const input = first(own.inputs, kind, (k) => canLink(kind, k));
  const output = first(own.outputs, wanted, (k) => canLink(k, wanted));
  if (!input || !output) return null;
  // The link's place is kept: the order of several shapes that are merged does not change.
  const index = document.graph.links.findIndex((l) => l.from === into.from && l.to === into.to);
  const through = { ...into, from: joinAddress(node, output) };
  return {
    kind: "several",
    edits: [
      { kind: "remove", links: [into] },
      { kind: "add", links: [{ item: through, index }] },
      {
        kind: "add",
        links: [
          { item: { from: into.from, to: joinAddress(node, input) }, index: document.graph.links.length },
        ],
      },
    ],
  };
}

/**
 * Links in place of those through the nodes that go: what came into a node's first input of an output's kind then goes where
 * that output went. Chains of nodes that all go are bridged whole.
 */
function bridges(document: PieceDocument, going: ReadonlySet<string>): Link[] {
  const { links } = document.graph;
  /** Where what leaves there came from, outside of the nodes that go. */
  const sourceOf = (address: string): string | undefined => {
    const seen = new Set<string>();
    for (let at = address; ; ) {
      const { node, port } = parseAddress(at);
      if (!going.has(node)) return at;
      const definition = typeOf(document, node);
      const kind = definition?.outputs[port]?.kind;
      const input = Object.entries<AnyInput>(definition?.inputs ?? {}).find(([, i]) => i.kind === kind)?.[0];
      const into = links.find(({ to }) => to === joinAddress(node, input ?? ""));
      if (!kind || !into || seen.has(node)) return undefined;
      seen.add(node);
      at = into.from;
    }
  };
  const made = new Map<string, Link>();
  for (const link of links) {
    if (!going.has(parseAddress(link.from).node) || going.has(parseAddress(link.to).node)) continue;
    const from = sourceOf(link.from);
    const exists = links.some((other) => other.from === from && other.to === link.to);
    if (from && !exists) made.set(`${from}>${link.to}`, { from, to: link.to });
  }
  return [...made.values()];
}

/** The links of the nodes are taken away and what they joined is joined past them. Null when nothing is linked. */
export function pullOutEdit(document: PieceDocument, nodes: ReadonlySet<string>): Edit | null {
  const isEnd = (address: string) => nodes.has(parseAddress(address).node);
  const gone = document.graph.links.filter((link) => isEnd(link.from) !== isEnd(link.to));
  if (gone.length === 0) return null;
  return withBridges(document, { kind: "remove", links: gone }, gone.length, nodes);
}

/** Removes nodes (with their links and dials) and links, and joins what the nodes had passed on. */
export function removeHealedEdit(
  document: PieceDocument,
  chosen: ReadonlySet<string>,
  links: readonly Link[],
): Edit {
  const nodes = withoutBorder(document, chosen);
  const removal = removeEdit(document, nodes, links) as Extract<Edit, { kind: "remove" }>;
  return withBridges(document, removal, removal.links?.length ?? 0, nodes);
}

function withBridges(document: PieceDocument, edit: Edit, gone: number, nodes: ReadonlySet<string>): Edit {
  const made = bridges(document, nodes);
  if (made.length === 0) return edit;
  const index = document.graph.links.length - gone;
  return {
    kind: "several",
    edits: [edit, { kind: "add", links: made.map((item, i) => ({ item, index: index + i })) }],
  };
}

/** A place on the way of a link, before the place number `at`. */
export function leadEdit(link: Link, at: number, place: readonly [number, number]): Edit {
  const via = [...(link.via ?? [])];
  via.splice(at, 0, [Math.round(place[0]), Math.round(place[1])]);
  return { kind: "set-via", link, via };
}

export const moveLeadEdit = (link: Link, at: number, place: readonly [number, number]): Edit => ({
  kind: "set-via",
  link,
  via: (link.via ?? []).map((p, i) =>
    i === at ? ([Math.round(place[0]), Math.round(place[1])] as const) : p,
  ),
});

export function dropLeadEdit(link: Link, at: number): Edit {
  const via = (link.via ?? []).filter((_, i) => i !== at);
  return { kind: "set-via", link, via: via.length > 0 ? via : undefined };
}

/** Two links of one input in each other's place, which is the order in which they count. */
export function swapLinksEdit({ graph }: PieceDocument, first: Link, second: Link): Edit {
  const [low, high] = [first, second].map((link) => graph.links.indexOf(link)).sort((a, b) => a - b);
  return {
    kind: "several",
    edits: [
      { kind: "remove", links: [first, second] },
      {
        kind: "add",
        links: [
          { item: graph.links[high], index: low },
          { item: graph.links[low], index: high },
        ],
      },
    ],
  };
}
