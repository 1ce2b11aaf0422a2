/** How large cards are and where their ports lie, units of the graph; card.tsx and card-body.tsx draw them so. */
import { definitionOf, parseCapsuleType } from "@/core/capsules/definitions";
import { indexGraph } from "@/core/document/links";
import type { GraphNode, PieceDocument } from "@/core/document/schema";
import type { AnyNode } from "@/core/nodes/define";
import type { Box } from "../opening-view";
import { type CardRows, cardRows, dialsOf } from "./card-rows";

export const CARD_WIDTH = 224;
/** Heights of a card's parts. */
export const FLAP = 40;
export const SUMMARY = 18;
export const INPUT_ROW = 24;
export const FOLD_ROW = 22;
export const OUTPUT_ROW = 22;
/** Above the rows, below them, and about the outputs; the outline is in the first. */
const HEAD_PAD = 6;
const MIDDLE_PAD = 5;
/** So high that two lines of the title can be read from afar. */
export const LEAST_HEIGHT = 98;
/** From a card's edge to the outer end of a port. */
export const TAB_REACH = 9;

export type CardSize = Pick<Box, "width" | "height">;

/** Where a card's parts begin, below its upper edge. */
interface Parts {
  readonly inputs: number;
  readonly outputs: number;
  readonly height: number;
}

/** Whether the line of the summary is shown: what is linked says more. */
export const hasSummary = (definition: AnyNode, linked: ReadonlySet<string>): boolean =>
  definition.summary !== undefined && linked.size <= 1;

function partsOf(definition: AnyNode, rows: CardRows, summary: boolean): Parts {
  const role = parseCapsuleType(definition.type)?.role;
  const inputs = 2 + FLAP + (summary ? SUMMARY : 0) + HEAD_PAD / 2;
  const free = role === "outputs-of" ? 1 : 0;
  const ends =
    inputs + INPUT_ROW * (rows.shown.length + free) + (rows.more > 0 ? FOLD_ROW : 0) + HEAD_PAD / 2;
  const outputs = ends + MIDDLE_PAD;
  const leaving = role === "outputs-of" ? 0 : Object.keys(definition.outputs).length;
  const height = outputs + OUTPUT_ROW * (leaving + (role === "inputs-of" ? 1 : 0)) + MIDDLE_PAD;
  return { inputs, outputs, height: Math.max(LEAST_HEIGHT, height) };
}

/** Of a card that was just added: nothing on it is linked. @param set what it begins with */
export function usualSize(definition: AnyNode | undefined, set: GraphNode["set"] = {}): CardSize {
  if (!definition) return { width: CARD_WIDTH, height: LEAST_HEIGHT };
  const rows = cardRows(definition, { set }, NONE, NONE, false);
  return { width: CARD_WIDTH, height: partsOf(definition, rows, hasSummary(definition, NONE)).height };
}

const NONE: ReadonlySet<string> = new Set();

function laidOut(document: PieceDocument, node: GraphNode) {
  const definition = definitionOf(document, node.type);
  if (!definition) return null;
  const linked = new Set(indexGraph(document.graph).into.get(node.id)?.keys() ?? []);
  const rows = cardRows(definition, node, linked, dialsOf(document, node.id), false);
  return { definition, rows, parts: partsOf(definition, rows, hasSummary(definition, linked)) };
}

/** Of a card as the document has it, folded. */
export const cardSize = (document: PieceDocument, node: GraphNode): CardSize => ({
  width: CARD_WIDTH,
  height: laidOut(document, node)?.parts.height ?? LEAST_HEIGHT,
});

/** Where a link meets a port of a folded card, from the card's upper left corner; null when the port is not shown. */
export function portPlace(
  document: PieceDocument,
  node: GraphNode,
  port: string,
  side: "input" | "output",
): readonly [number, number] | null {
  const card = laidOut(document, node);
  if (!card) return null;
  const { parts, rows, definition } = card;
  const row =
    side === "input"
      ? rows.shown.findIndex(([name]) => name === port)
      : Object.keys(definition.outputs).indexOf(port);
  if (row < 0) return null;
  return side === "input"
    ? [-TAB_REACH, parts.inputs + INPUT_ROW * (row + 0.5)]
    : [CARD_WIDTH + TAB_REACH, parts.outputs + OUTPUT_ROW * (row + 0.5)];
}
