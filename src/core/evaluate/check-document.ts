/** Everything wrong with a piece that can be told without working it out: settings, links, unknown nodes. */

import { indexGraph, orderFrom, parseAddress } from "../document/links";
import type { PieceDocument } from "../document/schema";
import { catalogue } from "../nodes/catalogue";
import { linkFault } from "./convert";
import { settingFault } from "./settings";

export interface Finding {
  readonly level: "error" | "warning";
  readonly node?: string;
  readonly port?: string;
  readonly what: string;
  readonly repair?: string;
}

export function checkDocument(document: PieceDocument): Finding[] {
  const findings: Finding[] = [];
  const index = indexGraph(document.graph);
  for (const node of document.graph.nodes) {
    const definition = catalogue.get(node.type);
    if (!definition) {
      findings.push({
        level: "warning",
        node: node.id,
        what: `This version has no node of type "${node.type}".`,
        repair: "It is kept; a newer version may know it.",
      });
      continue;
    }
    for (const [name, value] of Object.entries(node.set)) {
      const input = definition.inputs[name];
      const fault = input ? settingFault(input, value) : "is not an input of this node";
      if (fault)
        findings.push({
          level: input ? "error" : "warning",
          node: node.id,
          port: name,
          what: `"${name}" ${fault}.`,
          repair: `Remove it to use the default.`,
        });
    }
  }
  for (const link of document.graph.links) {
    const fault = faultOfLink(link.from, link.to, index.nodes);
    if (fault) findings.push({ ...fault, repair: "Remove the link." });
  }
  const order = orderFrom(index, index.nodes.keys());
  if (!order.ok) {
    findings.push({
      level: "error",
      node: order.cycle[0],
      what: `These nodes feed each other in a ring: ${order.cycle.join(" → ")}.`,
      repair: "Remove one of the links.",
    });
  }
  return findings;
}

function faultOfLink(from: string, to: string, nodes: ReadonlyMap<string, { type: string }>): Finding | null {
  const source = parseAddress(from);
  const target = parseAddress(to);
  for (const [end, address] of [
    [source, from],
    [target, to],
  ] as const) {
    if (!nodes.has(end.node))
      return {
        level: "error",
        node: target.node,
        port: target.port,
        what: `A link names "${address}", and there is no node "${end.node}".`,
      };
  }
  const output = catalogue.get(nodes.get(source.node)?.type ?? "");
  const input = catalogue.get(nodes.get(target.node)?.type ?? "");
  // Ports of nodes this version does not know cannot be judged.
  if (!output || !input) return null;
  if (!output.outputs[source.port])
    return {
      level: "error",
      node: source.node,
      port: source.port,
      what: `${output.title} has no output "${source.port}".`,
    };
  if (!input.inputs[target.port])
    return {
      level: "error",
      node: target.node,
      port: target.port,
      what: `${input.title} has no input "${target.port}".`,
    };
  const fault = linkFault(output.outputs[source.port].kind, input.inputs[target.port].kind);
  return fault ? { level: "error", node: target.node, port: target.port, what: fault } : null;
}
