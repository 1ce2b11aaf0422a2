/** Note areas: labelled patches behind nodes. */
import type { Edit } from "@/core/document/edits";
import { NOTE_TINTS, type Note, type PieceDocument } from "@/core/document/schema";
import type { Box } from "./opening-view";

export const NOTE_COLORS: Readonly<Record<(typeof NOTE_TINTS)[number], string>> = {
  moss: "var(--good)",
  marigold: "var(--accent)",
  sky: "var(--note)",
  coral: "var(--alert)",
  lilac: "var(--lilac)",
};

/** Around what it is put behind, units of the graph. */
export const MARGIN = 28;
/** Room for its text, which grows as it goes away. */
export const NOTE_HEAD = 64;

/** About the width of a letter of its text, and its height, as it is seen from afar. */
const LETTER = 20;
const LABEL_HEIGHT = 46;

/** Where the text of an area stands: links are led around it. */
export const labelBox = ({ at: [x, y], size, text }: Note): Box => ({
  x,
  y,
  width: Math.min(size[0], LETTER * text.split("\n")[0].length),
  height: text === "" ? 0 : LABEL_HEIGHT,
});

/** A note area behind boxes, or at a place when there are none. */
export function addNoteEdit(
  document: PieceDocument,
  boxes: readonly Box[],
  place: readonly [number, number],
): { id: string; edit: Edit } {
  const notes = document.graph.notes ?? [];
  const taken = new Set(notes.map((note) => note.id));
  let number = notes.length + 1;
  while (taken.has(`note-${number}`)) number++;
  const left = Math.min(...boxes.map(({ x }) => x));
  const top = Math.min(...boxes.map(({ y }) => y));
  const right = Math.max(...boxes.map(({ x, width }) => x + width));
  const bottom = Math.max(...boxes.map(({ y, height }) => y + height));
  const item: Note = {
    id: `note-${number}`,
    text: "",
    tint: NOTE_TINTS[(number - 1) % NOTE_TINTS.length],
    ...(boxes.length > 0
      ? {
          at: rounded(left - MARGIN, top - NOTE_HEAD),
          size: rounded(right - left + 2 * MARGIN, bottom - top + NOTE_HEAD + MARGIN),
        }
      : { at: rounded(place[0], place[1]), size: [320, 200] }),
  };
  return { id: item.id, edit: { kind: "add", notes: [{ item, index: notes.length }] } };
}

const rounded = (x: number, y: number): [number, number] => [Math.round(x), Math.round(y)];

/** Ids of the nodes whose upper left corner lies in a note area: they move with it. */
export const nodesOn = (document: PieceDocument, { at, size }: Note): string[] =>
  document.graph.nodes
    .filter(
      (node) =>
        node.at[0] >= at[0] &&
        node.at[1] >= at[1] &&
        node.at[0] <= at[0] + size[0] &&
        node.at[1] <= at[1] + size[1],
    )
    .map(({ id }) => id);
