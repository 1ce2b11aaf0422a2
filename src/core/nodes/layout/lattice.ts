/**
 * Lattices as rows along X in layers along Y: where each row lies, and how far its sites are shifted. Nearest neighbours are
 * `spacing` apart in all of them but the body-centred one, whose cubes have that side.
 * J. H. Conway, N. J. A. Sloane, "Sphere Packings, Lattices and Groups", 1988.
 */
export const PACKINGS = ["boxes", "bricks", "hexagonal", "body-centred"] as const;
/** How a grid lies. */
export const GRIDS = ["straight", "staggered", "hexagonal", "body-centred"] as const;
export type Packing = (typeof PACKINGS)[number];

interface Lattice {
  /** Between layers, and between rows of one, spacings. */
  readonly layer: number;
  readonly row: number;
  /** What row `j` of layer `k` is shifted by along Z and X, spacings. */
  readonly shift: (j: number, k: number) => readonly [z: number, x: number];
  /** Volume for each site, spacings cubed. */
  readonly cell: number;
}

const odd = (n: number): number => n & 1;

export const LATTICES: Readonly<Record<Packing | (typeof GRIDS)[number], Lattice>> = {
  straight: { layer: 1, row: 1, shift: () => [0, 0], cell: 1 },
  staggered: { layer: 1, row: 1, shift: (j, k) => [0, odd(j + k) / 2], cell: 1 },
  boxes: { layer: 1, row: 1, shift: () => [0, 0], cell: 1 },
  bricks: { layer: 1, row: 1, shift: (_, k) => [0, odd(k) / 2], cell: 1 },
  hexagonal: {
    layer: Math.sqrt(2 / 3),
    row: Math.sqrt(3) / 2,
    shift: (j, k) => [(odd(k) * Math.sqrt(3)) / 6, odd(j + k) / 2],
    cell: Math.SQRT1_2,
  },
  "body-centred": { layer: 0.5, row: 1, shift: (_, k) => [odd(k) / 2, odd(k) / 2], cell: 0.5 },
};
