/** Everything wrong with a piece that can be told without working it out: settings, links, unknown nodes. */

import { capsulesWithin, definitionOf } from "../capsules/definitions";
import { openCapsule } from "../document/edits";
import { indexGraph, orderFrom, parseAddress, settingPort } from "../document/links";
import type { GraphNode, PieceDocument } from "../document/schema";
import type { AnyInput } from "../nodes/define";
import type { Setting } from "../nodes/ports";
import { own } from "../own";
import { carriedKind } from "./carried";
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
  return [
    ...checkGraph(document),
    ...Object.keys(document.capsules).flatMap((name) =>
      [...selfContained(document, name), ...checkGraph(openCapsule(document, name))].map((finding) => ({
        ...finding,
        what: `In the capsule "${document.capsules[name].title}": ${finding.what}`,
      })),
    ),
  ];
}

const selfContained = ({ capsules }: PieceDocument, name: string): Finding[] =>
  capsulesWithin(capsules, name).has(name)
    ? [{ level: "error", what: "It contains itself.", repair: "Take the instance out of its own graph." }]
    : [];

function checkGraph(document: PieceDocument): Finding[] {
  const findings: Finding[] = [];
  const index = indexGraph(document.graph);
  for (const node of document.graph.nodes) {
    const definition = definitionOf(document, node.type);
    if (!definition) {
      findings.push({
        level: "warning",
        node: node.id,
        what: `There is no node of type "${node.type}" here.`,
        repair: "It is kept; a newer version, or the capsule when it is brought in, may know it.",
      });
      continue;
    }
    const report = (name: string, what: string, value: Setting, repair: string) => {
      const input = own<AnyInput>(definition.inputs, name);
      const fault = input ? settingFault(input, value) : "is not an input of this node";
      if (fault)
        findings.push({
          level: input ? "error" : "warning",
          node: node.id,
          port: name,
          what: `${what} ${fault}.`,
          repair,
        });
    };
    for (const [name, value] of Object.entries(node.set))
      report(name, `"${name}"`, value, "Remove it to use the default.");
    for (const [name, { keys }] of Object.entries(node.keys ?? {}))
      for (const { frame, value } of keys)
        report(name, `The key of "${name}" at frame ${frame}`, value, "Change the key or remove it.");
  }
  for (const link of document.graph.links) {
    const fault = faultOfLink(document, link.from, link.to, index.nodes);
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

function faultOfLink(
  document: PieceDocument,
  from: string,
  to: string,
  nodes: ReadonlyMap<string, GraphNode>,
): Finding | null {
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
  const output = definitionOf(document, nodes.get(source.node)?.type ?? "");
  const input = definitionOf(document, nodes.get(target.node)?.type ?? "");
  // Ports of nodes this version does not know cannot be judged.
  if (!output || !input) return null;
  const kind = carriedKind(output, source.port);
  if (!kind)
    return {
      level: "error",
      node: source.node,
      port: source.port,
      what: `${output.title} has no ${settingPort(source.port) === null ? "output" : "value"} "${settingPort(source.port) ?? source.port}".`,
    };
  const port = own<AnyInput>(input.inputs, target.port);
  if (!port)
    return {
      level: "error",
      node: target.node,
      port: target.port,
      what: `${input.title} has no input "${target.port}".`,
    };
  const fault = linkFault(kind, port.kind);
  return fault ? { level: "error", node: target.node, port: target.port, what: fault } : null;
}
