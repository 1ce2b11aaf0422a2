/**
 * How much of a card is told, by how far away it is looked at: nearby all of it, from afar its title, from very far its family's
 * picture. No word is ever smaller on the screen than LEAST_TEXT.
 */

/** Pixels of the screen. */
export const LEAST_TEXT = 11;

export type Distance = "near" | "reading" | "titles" | "far" | "specks";

/** The smallest zoom of each, nearest first; below all of them there are specks. */
const FROM: readonly (readonly [Distance, number])[] = [
  ["near", 0.92],
  ["reading", 0.74],
  ["titles", 0.5],
  ["far", 0.28],
];

export const LEAST_ZOOM = 0.15;

export const distanceAt = (zoom: number): Distance => FROM.find(([, from]) => zoom >= from)?.[0] ?? "specks";

/** From one size of text to the next where nothing but labels is read. */
const STEP = 0.02;

/** Height of the smallest text at a zoom, units of the graph: the same within a distance, so that little is laid out anew. */
export function textAt(zoom: number): number {
  const from = FROM.find(([, least]) => zoom >= least)?.[1];
  return LEAST_TEXT / (from ?? Math.max(LEAST_ZOOM, Math.floor(zoom / STEP) * STEP));
}
