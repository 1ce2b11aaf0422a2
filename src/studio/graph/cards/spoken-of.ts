import type { PieceDocument } from "@/core/document/schema";
import { typeOf } from "../graph-edits";

/** Ids of the nodes whose titles, or whose notes' words, stand in a text. */
export function cardsSpokenOf(document: PieceDocument, text: string): string[] {
  const words = ` ${text.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, " ")} `;
  return document.graph.nodes
    .filter(({ id, type }) => {
      const title = typeOf(document, id)?.title ?? type;
      return [title, id].some((name) => words.includes(` ${name.toLowerCase()} `));
    })
    .map(({ id }) => id);
}
