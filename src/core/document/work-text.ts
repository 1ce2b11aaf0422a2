/** What a piece comes to depends on a part of its document only: not on where cards lie, its name, its dials or its view. */
import type { Graph, PieceDocument } from "./schema";

const texts = new WeakMap<PieceDocument, string>();

/** The same text for documents that come to the same at every frame. */
export function workText(document: PieceDocument): string {
  let text = texts.get(document);
  if (text === undefined) {
    const { settings, graph, capsules, assets } = document;
    const within = Object.entries(capsules).map(([name, { inputs, outputs, graph }]) => [
      name,
      inputs,
      outputs,
      workOf(graph),
    ]);
    texts.set(document, (text = JSON.stringify([settings, workOf(graph), within, assets])));
  }
  return text;
}

const workOf = ({ nodes, links }: Graph) => [
  nodes.map(({ id, type, set, bypass, keys }) => [id, type, set, bypass, keys]),
  links.map(({ from, to }) => [from, to]),
];
