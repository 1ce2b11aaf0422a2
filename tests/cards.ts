/** Cards of a graph as they are before they are drawn. */
import { blankDocument, type PieceDocument } from "../src/core/document/schema";
import type { Boxes } from "../src/studio/graph/cards/card-places";
import { cardSize } from "../src/studio/graph/cards/card-size";

/** A piece with nothing but a Stage. */
export const BLANK: PieceDocument = {
  ...blankDocument("Blank"),
  graph: { nodes: [{ id: "stage", type: "stage", at: [300, 0], set: {} }], links: [] },
};

export const boxesOf = (document: PieceDocument): Boxes =>
  new Map(
    document.graph.nodes.map((node) => [
      node.id,
      { x: node.at[0], y: node.at[1], ...cardSize(document, node) },
    ]),
  );

/** Pairs of cards that lie on each other. */
export function overlaps(document: PieceDocument): string[] {
  const boxes = [...boxesOf(document)];
  return boxes.flatMap(([a, p], i) =>
    boxes
      .slice(i + 1)
      .filter(
        ([, q]) => p.x < q.x + q.width && q.x < p.x + p.width && p.y < q.y + q.height && q.y < p.y + p.height,
      )
      .map(([b]) => `${a} and ${b}`),
  );
}
