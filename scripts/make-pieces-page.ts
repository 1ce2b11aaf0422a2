/** docs/PIECES.md: how the demo pieces are made, in words and step by step, from their documents. Written by `./run docs`. */
import { writeFileSync } from "node:fs";
import { definitionOf } from "../src/core/capsules/definitions";
import { indexGraph, orderFrom, parseAddress } from "../src/core/document/links";
import type { GraphNode, PieceDocument } from "../src/core/document/schema";
import type { AnyInput } from "../src/core/nodes/define";
import { portWords } from "../src/core/nodes/port-words";
import type { Setting } from "../src/core/nodes/ports";
import { demoNames, readDemo } from "../src/server/demo";

function valueWords(value: Setting): string {
  if (Array.isArray(value)) return value.join(" ");
  if (value !== null && typeof value === "object") return "drawn";
  return String(value);
}

/** One node: what it is, what is set, what it takes. */
function step(piece: PieceDocument, node: GraphNode, at: number): string {
  const definition = definitionOf(piece, node.type);
  const inputs: Record<string, AnyInput> = definition?.inputs ?? {};
  const words = (name: string) => inputs[name]?.label ?? portWords(name);
  const set = Object.entries(node.set).map(([name, value]) => `${words(name)} ${valueWords(value)}`);
  const takes = piece.graph.links
    .filter(({ to }) => parseAddress(to).node === node.id)
    .map(({ from, to }) => {
      const source = parseAddress(from);
      return `${portWords(source.port)} of _${source.node}_ into ${words(parseAddress(to).port)}`;
    });
  const said = [set.join(", "), takes.join(", ")].filter((part) => part !== "").join("; ");
  return `${at + 1}. **${definition?.title ?? node.type}** _${node.id}_${said ? `: ${said}` : ""}`;
}

function section(name: string): string {
  const piece = readDemo(name);
  if (!piece.made) return "";
  const index = indexGraph(piece.graph);
  const order = orderFrom(index, index.nodes.keys());
  const nodes = order.ok ? order.order.map((id) => index.nodes.get(id) as GraphNode) : piece.graph.nodes;
  return [
    `## ${piece.name}`,
    `_${piece.about}_ (\`demo:${name}\`)`,
    piece.made,
    nodes.map((node, at) => step(piece, node, at)).join("\n"),
    `Dials: ${piece.dials.map(({ label, input }) => `${label} (${input})`).join(", ")}.`,
  ].join("\n\n");
}

export const piecesPage = (): string =>
  `${[
    "# How the pieces are made",
    "Written from the documents by `./run docs`. The words stand in the studio too, under the dials; the steps are the nodes in the order in which they are worked out, with what is set on them and what is linked.",
    ...demoNames()
      .map(section)
      .filter((text) => text !== ""),
  ].join("\n\n")}\n`;

if (process.argv[1]?.endsWith("make-pieces-page.ts")) writeFileSync("docs/PIECES.md", piecesPage());
