/** What is drawn besides meshes: lines and dots. Positions are 3 numbers an element, colours 4, linear RGBA. */

interface Loose {
  readonly count: number;
  readonly positions: Float32Array;
  readonly colors: Float32Array;
  /** Units across, where elements say so; 0 stands for a fine one. */
  readonly thickness?: Float32Array;
  /** Of dots: 0 is a flat disc, 1 a ball; flat without it. */
  readonly roundness?: Float32Array;
  /** Of dots: the number of the set of pictures whose colour they show, 0 for none (geometry/textures.ts). */
  readonly pictures?: Float32Array;
}

/** Curves of every copy as loose segments in world space: all there is of each of the two ends of a segment; `count` segments. */
export type DrawLines = Loose;

/** Sites without a shape: shown as dots on the stage, left out of files. */
export type DrawDots = Loose;

export const arraysOfLoose = (part: Loose | undefined): Float32Array[] =>
  part
    ? [part.positions, part.colors, part.thickness, part.roundness, part.pictures].filter(
        (array) => array !== undefined,
      )
    : [];
