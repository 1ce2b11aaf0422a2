/**
 * A cube of places that keep a least distance, also to those of the same cube beside it, so that copies fill any room: blue noise
 * from a tile (M. Cohen et al., "Wang tiles for image and texture generation", 2003, here with one cube that fits itself). It is
 * made once for a seed by throwing, and scaled to the distance that is asked for.
 */
import { tick } from "../../../cancelling";
import type { Bounds } from "../../../geometry/bounds";
import { hash3, unit24 } from "../../../maths/random";

/** Side of the cube in least distances; it is also the number of cells along it that are searched. */
const SIDE = 16;
const CELLS = SIDE * SIDE * SIDE;
/** Throws; as many again find a hundredth more. */
const THROWS = 200_000;

/** Places in least distances, each below SIDE. */
export interface ApartTile {
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly z: Float64Array;
}

/** Places that a unit of volume holds at a least distance of 1, about: what a tile comes to. */
export const CAPACITY = 0.66;

let last: { readonly seed: number; readonly tile: ApartTile } | null = null;

export function apartTile(seed: number): ApartTile {
  if (last?.seed !== seed) last = { seed, tile: thrown(seed) };
  return last.tile;
}

function thrown(seed: number): ApartTile {
  const heads = new Int32Array(CELLS).fill(-1);
  const next: number[] = [];
  const lanes: [number[], number[], number[]] = [[], [], []];
  const around = (cell: number, step: number) => (cell + step + SIDE) % SIDE;
  /** The way from one to the other on the shorter side round. */
  const apart = (a: number, b: number) => {
    const d = Math.abs(a - b);
    return d > SIDE / 2 ? SIDE - d : d;
  };
  const isNear = (x: number, y: number, z: number): boolean => {
    const [i, j, k] = [Math.floor(x), Math.floor(y), Math.floor(z)];
    for (let a = -1; a <= 1; a++)
      for (let b = -1; b <= 1; b++)
        for (let c = -1; c <= 1; c++) {
          const cell = (around(i, a) * SIDE + around(j, b)) * SIDE + around(k, c);
          for (let p = heads[cell]; p >= 0; p = next[p]) {
            const [dx, dy, dz] = [apart(lanes[0][p], x), apart(lanes[1][p], y), apart(lanes[2][p], z)];
            if (dx * dx + dy * dy + dz * dz < 1) return true;
          }
        }
    return false;
  };
  for (let t = 0; t < THROWS; t++) {
    tick(16);
    const [x, y, z] = [0, 1, 2].map((channel) => unit24(hash3(seed, t, channel)) * SIDE);
    if (isNear(x, y, z)) continue;
    const cell = (Math.floor(x) * SIDE + Math.floor(y)) * SIDE + Math.floor(z);
    next.push(heads[cell]);
    heads[cell] = next.length - 1;
    lanes[0].push(x);
    lanes[1].push(y);
    lanes[2].push(z);
  }
  return { x: Float64Array.from(lanes[0]), y: Float64Array.from(lanes[1]), z: Float64Array.from(lanes[2]) };
}

/** Places of all copies of a tile that lie in a box, three numbers each, in the order of a hash: any first part is spread over all. */
export function tiledPlaces(
  tile: ApartTile,
  { min, max }: Bounds,
  least: number,
  seed: number,
  isIn: (x: number, y: number, z: number) => boolean,
): Float64Array {
  const side = SIDE * least;
  const counts = [0, 1, 2].map((a) => Math.max(1, Math.ceil((max[a] - min[a]) / side)));
  const found: number[] = [];
  const order: number[] = [];
  let copy = 0;
  for (let i = 0; i < counts[0]; i++)
    for (let j = 0; j < counts[1]; j++)
      for (let k = 0; k < counts[2]; k++, copy++)
        for (let p = 0; p < tile.x.length; p++) {
          tick(4);
          const x = min[0] + i * side + tile.x[p] * least;
          const y = min[1] + j * side + tile.y[p] * least;
          const z = min[2] + k * side + tile.z[p] * least;
          if (x > max[0] || y > max[1] || z > max[2] || !isIn(x, y, z)) continue;
          // 28 bits of chance, then the number: one key to sort by.
          order.push((hash3(seed, copy, p) >>> 4) * 2 ** 24 + order.length);
          found.push(x, y, z);
        }
  const keys = Float64Array.from(order).sort();
  const places = new Float64Array(found.length);
  keys.forEach((key, r) => {
    const i = key % 2 ** 24;
    for (let a = 0; a < 3; a++) places[r * 3 + a] = found[i * 3 + a];
  });
  return places;
}
