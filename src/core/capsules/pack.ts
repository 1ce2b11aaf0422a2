/** Packing a part of a graph into a capsule, as an edit. The piece works out the same before and after. */
import { type Edit, freshId, removalOf } from "../document/edits";
import { joinAddress, parseAddress } from "../document/links";
import type {
  Capsule,
  CapsuleInput,
  CapsuleOutput,
  Dial,
  GraphNode,
  Link,
  PieceDocument,
  Track,
} from "../document/schema";
import { withTracks } from "../keys/track";
import type { AnyInput } from "../nodes/define";
import { portWords } from "../nodes/port-words";
import { capsuleType, definitionOf, isBorderType } from "./definitions";
import { middleOf } from "./middle";
import { freshName, freshPort } from "./names";
import { capsuleInputFor } from "./ports";

export type Packed =
  | { readonly ok: true; readonly edit: Edit; readonly node: string; readonly name: string }
  | { readonly ok: false; readonly what: string };

/** From a border node to what it feeds, units of the graph. */
const BORDER_GAP = 300;

interface Crossing {
  readonly links: Link[];
  readonly outer: string[];
}

/**
 * One node in place of the chosen ones. What is linked with them from outside becomes ports of the capsule, and dials on
 * them its inputs.
 */
export function packEdit(document: PieceDocument, chosen: ReadonlySet<string>, title: string): Packed {
  const nodes = document.graph.nodes.filter((node) => chosen.has(node.id));
  const refused = whyNot(nodes);
  if (refused) return { ok: false, what: refused };
  const isIn = (address: string) => chosen.has(parseAddress(address).node);
  const { links } = document.graph;
  const within = links.filter((link) => isIn(link.from) && isIn(link.to));
  const name = freshName(Object.keys(document.capsules), title);
  const packing = new Packing(document, nodes, name);
  for (const [, crossing] of arriving(document, links, isIn)) packing.arrive(crossing);
  const dials = document.dials.filter((dial) => isIn(dial.input));
  for (const dial of dials) packing.takeDial(dial);
  for (const [from, crossing] of leaving(links, isIn)) packing.leave(from, crossing);
  if (packing.outputs.length === 0) packing.leaveEnds(within);

  const at = middleOf(nodes);
  const node = freshId(document, name);
  const removal = removalOf(document, chosen) as Extract<Edit, { kind: "remove" }>;
  const gone = removal.links?.length ?? 0;
  const outer: Edit[] = [
    { kind: "set-capsule", name, capsule: packing.capsule(title, within) },
    { ...removal, dials: [] },
    {
      kind: "add",
      nodes: [
        {
          item: withTracks({ id: node, type: capsuleType("capsule", name), at, set: {} }, packing.tracks),
          index: document.graph.nodes.length - nodes.length,
        },
      ],
      links: packing.outerLinks(node).map((item, i) => ({ item, index: links.length - gone + i })),
    },
  ];
  if (dials.length > 0) outer.push({ kind: "set-dials", dials: packing.movedDials(node) });
  return { ok: true, edit: { kind: "several", edits: outer }, node, name };
}

function whyNot(nodes: readonly GraphNode[]): string | null {
  if (nodes.length === 0) return "Choose the nodes that are to be packed first.";
  if (nodes.some(({ type }) => type === "stage"))
    return "The Stage stays outside of capsules. Choose the nodes before it.";
  if (nodes.some(({ type }) => isBorderType(type)))
    return "Where things come into a capsule and leave it cannot be packed. Choose the nodes between.";
  return null;
}

/** Links from outside by what they bring: one source is one port, but for inputs that take several. */
function arriving(
  document: PieceDocument,
  links: readonly Link[],
  isIn: (address: string) => boolean,
): Map<string, Crossing> {
  const found = new Map<string, Crossing>();
  for (const link of links) {
    if (isIn(link.from) || !isIn(link.to)) continue;
    const key = inputAt(document, link.to)?.many ? `to ${link.to}` : `from ${link.from}`;
    const crossing = found.get(key) ?? { links: [], outer: [] };
    crossing.links.push(link);
    crossing.outer.push(link.from);
    found.set(key, crossing);
  }
  return found;
}

function leaving(links: readonly Link[], isIn: (address: string) => boolean): Map<string, Crossing> {
  const found = new Map<string, Crossing>();
  for (const link of links) {
    if (!isIn(link.from) || isIn(link.to)) continue;
    const crossing = found.get(link.from) ?? { links: [], outer: [] };
    crossing.links.push(link);
    crossing.outer.push(link.to);
    found.set(link.from, crossing);
  }
  return found;
}

function inputAt(document: PieceDocument, address: string): AnyInput | undefined {
  const { node, port } = parseAddress(address);
  const type = document.graph.nodes.find(({ id }) => id === node)?.type ?? "";
  return definitionOf(document, type)?.inputs[port];
}

class Packing {
  readonly inputs: CapsuleInput[] = [];
  readonly outputs: CapsuleOutput[] = [];
  /** Links of the capsule's graph with its border. */
  private readonly inner: Link[] = [];
  private readonly outerIn: { from: string; port: string }[] = [];
  private readonly outerOut: { port: string; link: Link }[] = [];
  /** Keys of dials: they are the instance's from now on. */
  readonly tracks: Record<string, Track> = {};
  private readonly dialPorts = new Map<string, string>();
  private readonly border: { readonly inputs: string; readonly outputs: string };

  constructor(
    private readonly document: PieceDocument,
    private readonly nodes: readonly GraphNode[],
    private readonly name: string,
  ) {
    const inner = { ...document, graph: { nodes: [...nodes], links: [] } };
    this.border = { inputs: freshId(inner, "inputs"), outputs: freshId(inner, "outputs") };
  }

  arrive({ links, outer }: Crossing): void {
    const port = this.addInput(links[0].to);
    if (!port) return;
    for (const to of new Set(links.map((link) => link.to)))
      this.inner.push({ from: joinAddress(this.border.inputs, port), to });
    for (const from of new Set(outer)) this.outerIn.push({ from, port });
  }

  takeDial(dial: Dial): void {
    const linked = this.document.graph.links.some((link) => link.to === dial.input);
    const port = linked ? undefined : this.addInput(dial.input, dial.label);
    if (!port) return;
    this.inner.push({ from: joinAddress(this.border.inputs, port), to: dial.input });
    this.dialPorts.set(dial.input, port);
    const { node, port: inner } = parseAddress(dial.input);
    const track = this.nodes.find(({ id }) => id === node)?.keys?.[inner];
    if (track) this.tracks[port] = track;
  }

  leave(from: string, { links }: Crossing): void {
    const port = this.addOutput(from);
    if (port) for (const link of links) this.outerOut.push({ port, link });
  }

  /** Nothing takes anything from the chosen nodes: what none of them uses leaves. */
  leaveEnds(within: readonly Link[]): void {
    const used = new Set(within.map((link) => parseAddress(link.from).node));
    for (const node of this.nodes) {
      const [output] = Object.keys(definitionOf(this.document, node.type)?.outputs ?? {});
      if (output && !used.has(node.id)) this.addOutput(joinAddress(node.id, output));
    }
  }

  capsule(title: string, within: readonly Link[]): Capsule {
    const xs = this.nodes.map(({ at }) => at[0]);
    const y = middleOf(this.nodes)[1];
    const border = (role: "inputs" | "outputs", x: number): GraphNode => ({
      id: this.border[role],
      type: capsuleType(`${role}-of`, this.name),
      at: [Math.round(x), y],
      set: {},
    });
    return {
      title,
      about: "",
      inputs: this.inputs,
      outputs: this.outputs,
      graph: {
        nodes: [
          border("inputs", Math.min(...xs) - BORDER_GAP),
          ...this.nodes.map((node) =>
            withTracks(
              node,
              Object.fromEntries(
                Object.entries(node.keys ?? {}).filter(
                  ([input]) => !this.dialPorts.has(joinAddress(node.id, input)),
                ),
              ),
            ),
          ),
          border("outputs", Math.max(...xs) + BORDER_GAP),
        ],
        links: [...within, ...this.inner],
      },
    };
  }

  outerLinks(node: string): Link[] {
    return [
      ...this.outerIn.map(({ from, port }) => ({ from, to: joinAddress(node, port) })),
      ...this.outerOut.map(({ port, link }) => ({ ...link, from: joinAddress(node, port) })),
    ];
  }

  movedDials(node: string): Dial[] {
    return this.document.dials.flatMap((dial) => {
      const port = this.dialPorts.get(dial.input);
      if (port) return [{ ...dial, input: joinAddress(node, port) }];
      return this.nodes.some(({ id }) => id === parseAddress(dial.input).node) ? [] : [dial];
    });
  }

  private addInput(to: string, label?: string): string | undefined {
    const { node, port } = parseAddress(to);
    const declared = inputAt(this.document, to);
    const set = this.nodes.find(({ id }) => id === node)?.set[port];
    if (!declared) return undefined;
    const name = freshPort(this.inputs, port);
    const numbered = name === port ? "" : ` ${name.slice(port.length + 1)}`;
    const wanted = label ?? `${declared.label ?? portWords(port)}${numbered}`;
    this.inputs.push(capsuleInputFor(declared, name, wanted, set));
    return name;
  }

  private addOutput(from: string): string | undefined {
    const { node, port } = parseAddress(from);
    const type = this.nodes.find(({ id }) => id === node)?.type ?? "";
    const declared = definitionOf(this.document, type)?.outputs[port];
    if (!declared) return undefined;
    const name = freshPort(this.outputs, port);
    this.outputs.push({
      name,
      label: declared.label ?? portWords(name),
      kind: declared.kind,
      about: declared.about,
    });
    this.inner.push({ from, to: joinAddress(this.border.outputs, name) });
    return name;
  }
}
