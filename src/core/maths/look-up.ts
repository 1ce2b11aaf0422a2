/** Colours by colours: a table of size³, red running fastest. */
export interface LookUp {
  readonly size: number;
  /** Red, green, blue and 1 of each entry. */
  readonly colors: Float32Array;
  /** The colours of the first entry and of the last one. */
  readonly least: readonly [number, number, number];
  readonly most: readonly [number, number, number];
}
