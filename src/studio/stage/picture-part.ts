/** Parts of a picture that are drawn one by one, as the whole is more than a graphics card draws at once. */

/** Pixels from the upper left corner of the whole. */
export interface PicturePart {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly whole: readonly [width: number, height: number];
}

/** Pixels along a part at most. */
const TILE = 2048;
/** Pixels around a part that are drawn and thrown away, for what looks at pixels nearby, as shade in corners does. */
const MARGIN = 96;

export interface Tile {
  /** Where it is put. */
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** What is drawn for it. */
  readonly drawn: PicturePart;
}

/** Pixels along a picture that is drawn at once, at most. */
export const MOST_AT_ONCE = 3840;

/** The tiles of a picture, row by row; null for one that is drawn at once. */
export function tilesOf(width: number, height: number): Tile[] | null {
  if (Math.max(width, height) <= MOST_AT_ONCE) return null;
  const spans = (length: number): [number, number][] =>
    Array.from({ length: Math.ceil(length / TILE) }, (_, i) => [i * TILE, Math.min(length, (i + 1) * TILE)]);
  return spans(height).flatMap(([top, bottom]) =>
    spans(width).map(([left, right]): Tile => {
      const [x, y] = [Math.max(0, left - MARGIN), Math.max(0, top - MARGIN)];
      const drawn = {
        x,
        y,
        width: Math.min(width, right + MARGIN) - x,
        height: Math.min(height, bottom + MARGIN) - y,
        whole: [width, height],
      } as const;
      return { x: left, y: top, width: right - left, height: bottom - top, drawn };
    }),
  );
}

/** As parts of the whole from its lower left corner: where it begins, and how large it is. */
export const inWhole = ({
  x,
  y,
  width,
  height,
  whole: [w, h],
}: PicturePart): [number, number, number, number] => [x / w, 1 - (y + height) / h, width / w, height / h];

/** All of a picture. */
export const WHOLE: readonly [number, number, number, number] = [0, 0, 1, 1];
