/**
 * The graph that is worked out: every instance of a capsule replaced by what is in it. Nodes inside are named by their path,
 * `instance/node`. What is remembered, traced and reported is then one node's, however deep it lies.
 */
import { tick } from "../cancelling";
import { joinAddress, parseAddress } from "../document/links";
import type { Capsule, Graph, GraphNode, Link, PieceDocument } from "../document/schema";
import type { AnyNode } from "../nodes/define";
import { capsuleNamed, definitionOf, flatBorderOf, parseCapsuleType } from "./definitions";
import { startsOf } from "./step-loop";

/** Between the parts of a path. */
export const PATH_SEPARATOR = "/";

/** Where what leaves an instance comes from, and what is in it. */
export interface Instance {
  /** The node that stands for what arrives; undefined when the capsule has none. */
  readonly inputs: string | undefined;
  readonly outputs: string | undefined;
  /** Its nodes and the nodes of capsules in it, by their paths. */
  readonly nodes: readonly string[];
}

export interface FlatGraph {
  readonly graph: Graph;
  /** By paths; missing for types that nothing is known of. */
  readonly definitions: ReadonlyMap<string, AnyNode>;
  readonly instances: ReadonlyMap<string, Instance>;
  /** Of each Step loop the node where what left it comes back, and the one where it leaves. */
  readonly loops: ReadonlyMap<string, string>;
}

/** Nodes of all instances together at most; an instance that would pass it stays whole, and fails. */
export const MOST_NODES = 20_000;

const flattened = new WeakMap<Graph, { capsules: PieceDocument["capsules"]; flat: FlatGraph }>();

/** Worked out once per graph and set of capsules. */
export function flatten(document: PieceDocument): FlatGraph {
  const known = flattened.get(document.graph);
  if (known?.capsules === document.capsules) return known.flat;
  const flat = new Flattening(document).done();
  flattened.set(document.graph, { capsules: document.capsules, flat });
  return flat;
}

class Flattening {
  private readonly nodes: GraphNode[] = [];
  private readonly links: Link[] = [];
  private readonly definitions = new Map<string, AnyNode>();
  private readonly instances = new Map<string, Instance>();
  private readonly loops = new Map<string, string>();
  /** Nodes that an instance of each capsule comes to, with all that is in it. */
  private readonly sizes = new Map<string, number>();

  constructor(private readonly document: PieceDocument) {}

  done(): FlatGraph {
    this.expand(this.document.graph, "", [], null);
    const { nodes, links, definitions, instances, loops } = this;
    // A piece without capsules is its own flat graph, so that what is known of it is found again.
    const graph = instances.size === 0 ? this.document.graph : { nodes, links };
    return { graph, definitions, instances, loops };
  }

  /** @param within capsules that are open, outermost first */
  private expand(graph: Graph, path: string, within: readonly string[], instance: GraphNode | null): void {
    const inner = new Map<string, Instance>();
    for (const node of graph.nodes) {
      tick(16);
      const id = path + node.id;
      const expanded = this.expandInstance(node, id, within);
      if (expanded) inner.set(node.id, expanded);
      else {
        const parsed = parseCapsuleType(node.type);
        const border = instance && parsed?.name === within.at(-1) ? parsed : null;
        const capsule = border && capsuleNamed(this.document.capsules, border.name);
        const definition =
          border && capsule ? flatBorderOf(capsule, border) : definitionOf(this.document, node.type);
        if (definition) this.definitions.set(id, definition);
        const given = border?.role === "inputs-of" ? { set: instance?.set ?? {}, keys: instance?.keys } : {};
        this.nodes.push({ ...node, id, ...given });
      }
    }
    for (const link of graph.links) {
      const from = parseAddress(link.from);
      const to = parseAddress(link.to);
      const source = end(from.node, inner.get(from.node)?.outputs, inner, path);
      const target = end(to.node, inner.get(to.node)?.inputs, inner, path);
      // A capsule without such a node takes or gives nothing; the link then names what is not there, and is reported.
      this.links.push({ from: joinAddress(source, from.port), to: joinAddress(target, to.port) });
    }
  }

  /** Counted once a capsule, however often it is used; one that holds itself stays whole there, and counts as one. */
  private sizeOf(name: string, within: readonly string[]): number {
    const known = this.sizes.get(name);
    if (known !== undefined) return known;
    let size = 0;
    for (const { type, bypass } of capsuleNamed(this.document.capsules, name)?.graph.nodes ?? []) {
      const parsed = parseCapsuleType(type);
      const opens =
        parsed?.role === "capsule" && !bypass && parsed.name !== name && !within.includes(parsed.name);
      size += 1 + (opens ? this.sizeOf(parsed.name, [...within, name]) : 0);
    }
    this.sizes.set(name, Math.min(size, MOST_NODES + 1));
    return size;
  }

  private expandInstance(node: GraphNode, id: string, within: readonly string[]): Instance | null {
    const parsed = parseCapsuleType(node.type);
    if (parsed?.role !== "capsule" || node.bypass || within.includes(parsed.name)) return null;
    const capsule = capsuleNamed(this.document.capsules, parsed.name);
    if (!capsule) return null;
    const { graph } = capsule;
    if (this.nodes.length + this.instances.size + this.sizeOf(parsed.name, within) > MOST_NODES) return null;
    const first = this.nodes.length;
    this.expand(graph, id + PATH_SEPARATOR, [...within, parsed.name], node);
    const border = (role: string) => {
      const found = graph.nodes.find(({ type }) => type === `${role}:${parsed.name}`);
      return found && id + PATH_SEPARATOR + found.id;
    };
    const nodes = this.nodes.slice(first).map((inside) => inside.id);
    const instance = { inputs: border("inputs-of"), outputs: border("outputs-of"), nodes };
    this.instances.set(id, instance);
    if (capsule.stepLoop) this.closeLoop(capsule, instance, border("before-of"));
    return instance;
  }

  /** What leaves a Step loop comes back; what is set on the instance reaches the nodes that need it. */
  private closeLoop(capsule: Capsule, { inputs, outputs }: Instance, before: string | undefined): void {
    const link = (from: string | undefined, to: string | undefined, ports: readonly string[]) => {
      if (from !== undefined && to !== undefined)
        for (const port of ports)
          this.links.push({ from: joinAddress(from, port), to: joinAddress(to, port) });
    };
    link(inputs, outputs, ["runUp"]);
    link(inputs, before, ["substeps", ...startsOf(capsule)]);
    if (before !== undefined && outputs !== undefined) this.loops.set(before, outputs);
  }
}

const end = (
  node: string,
  border: string | undefined,
  inner: ReadonlyMap<string, Instance>,
  path: string,
): string => (inner.has(node) ? (border ?? path + node) : path + node);
