/** Links by what they join, indexed both ways, and the order in which nodes can be worked out. */
import type { Graph, GraphNode, Link } from "./schema";

export interface Address {
  readonly node: string;
  readonly port: string;
}

export function parseAddress(address: string): Address {
  const dot = address.indexOf(".");
  return { node: address.slice(0, dot), port: address.slice(dot + 1) };
}

/** Before the name of an input whose own value is linked from. */
const SETTING = "set:";

/** The input whose value a port stands for; null for outputs. */
export const settingPort = (port: string): string | null =>
  port.startsWith(SETTING) ? port.slice(SETTING.length) : null;

/** The address from which the value of an input is linked to others. */
export const settingAddress = (node: string, input: string): string => joinAddress(node, SETTING + input);

export const joinAddress = (node: string, port: string): string => `${node}.${port}`;

export interface JoinedLink {
  readonly link: Link;
  readonly from: Address;
  readonly to: Address;
}

export interface GraphIndex {
  readonly nodes: ReadonlyMap<string, GraphNode>;
  /** Links into a node, by input, in document order. */
  readonly into: ReadonlyMap<string, ReadonlyMap<string, readonly JoinedLink[]>>;
  readonly outOf: ReadonlyMap<string, readonly JoinedLink[]>;
}

const known = new WeakMap<Graph, GraphIndex>();

/** The index of a graph, worked out once per graph. */
export function indexGraph(graph: Graph): GraphIndex {
  let index = known.get(graph);
  if (!index) known.set(graph, (index = makeIndex(graph)));
  return index;
}

function makeIndex(graph: Graph): GraphIndex {
  const nodes = new Map(graph.nodes.map((node) => [node.id, node]));
  const into = new Map<string, Map<string, JoinedLink[]>>();
  const outOf = new Map<string, JoinedLink[]>();
  for (const link of graph.links) {
    const joined = { link, from: parseAddress(link.from), to: parseAddress(link.to) };
    let inputs = into.get(joined.to.node);
    if (!inputs) into.set(joined.to.node, (inputs = new Map()));
    const list = inputs.get(joined.to.port);
    if (list) list.push(joined);
    else inputs.set(joined.to.port, [joined]);
    const leaving = outOf.get(joined.from.node);
    if (leaving) leaving.push(joined);
    else outOf.set(joined.from.node, [joined]);
  }
  return { nodes, into, outOf };
}

/** The nodes a node's inputs come from, each once. */
export function sourcesOf(index: GraphIndex, node: string): string[] {
  const found = new Set<string>();
  for (const links of index.into.get(node)?.values() ?? []) {
    for (const link of links) if (index.nodes.has(link.from.node)) found.add(link.from.node);
  }
  return [...found];
}

export type Order =
  | { readonly ok: true; readonly order: readonly string[] }
  /** A ring of node ids that feed each other, the first repeated at the end. */
  | { readonly ok: false; readonly cycle: readonly string[] };

/** All nodes that `roots` need, sources first; or the cycle that forbids an order. */
export function orderFrom(index: GraphIndex, roots: Iterable<string>): Order {
  const order: string[] = [];
  const state = new Map<string, "open" | "done">();
  for (const root of roots) {
    const stack: { node: string; sources: string[]; next: number }[] = [];
    const open = (node: string) => {
      state.set(node, "open");
      stack.push({ node, sources: sourcesOf(index, node), next: 0 });
    };
    if (!state.has(root)) open(root);
    while (stack.length > 0) {
      const top = stack[stack.length - 1];
      if (top.next === top.sources.length) {
        state.set(top.node, "done");
        order.push(top.node);
        stack.pop();
        continue;
      }
      const source = top.sources[top.next++];
      const seen = state.get(source);
      if (seen === "open") {
        const path = stack.map((entry) => entry.node);
        return { ok: false, cycle: [...path.slice(path.indexOf(source)), source] };
      }
      if (!seen) open(source);
    }
  }
  return { ok: true, order };
}

/** True when a link from `from` to `to` would close a cycle. */
export function wouldCycle(index: GraphIndex, from: string, to: string): boolean {
  if (from === to) return true;
  const seen = new Set<string>([to]);
  const stack = [to];
  while (stack.length > 0) {
    for (const link of index.outOf.get(stack.pop() as string) ?? []) {
      if (link.to.node === from) return true;
      if (!seen.has(link.to.node)) {
        seen.add(link.to.node);
        stack.push(link.to.node);
      }
    }
  }
  return false;
}
