/**
 * Which triangle is nearest, passed on from voxel to voxel: what is near to the surface knows it, and each voxel asks those beside it (P.-E.
 * Danielsson, "Euclidean distance mapping", 1980, with triangles in place of pixels). Costs by the voxel, however wide the band is.
 */
import { tick } from "../cancelling";
import { TILE, TILE_VOXELS } from "../geometry/volume";
import type { TileBox } from "./tiles";
import { TriangleDistance } from "./triangle-distance";

/** Rounds to and fro at most; two or three are enough for most shapes. */
const ROUNDS = 8;

export interface Nearest {
  /** Squared units. */
  readonly near: Float32Array;
  /** The first of its three points in `points`; −1 where none is known. */
  readonly which: Int32Array;
}

/** Writes into `near` and `which` of all voxels that can be reached, as far as `most` (squared units). */
export function passOn(
  box: TileBox,
  xyz: readonly Float32Array[],
  points: Int32Array,
  { near, which }: Nearest,
  most: number,
): void {
  const triangle = new TriangleDistance();
  const { voxel, tiles, first, table } = box;
  let changed = 0;
  let asked = -1;
  /** Whether what the voxel at `from` knows is nearer to the one at `at`, too. */
  const ask = (at: number, from: number, x: number, y: number, z: number): void => {
    const t = which[from];
    if (t < 0 || t === which[at]) return;
    if (t !== asked) {
      triangle.set(xyz, points[t], points[t + 1], points[t + 2]);
      asked = t;
    }
    const far = triangle.squared(x, y, z);
    if (far >= near[at] || far > most) return;
    near[at] = far;
    which[at] = t;
    changed++;
  };
  const strides = [1, tiles[0], tiles[0] * tiles[1]];
  /** Asks the three voxels before (or, backwards, behind) each voxel of a tile. */
  const tile = (place: number, corner: readonly number[], back: boolean): void => {
    const base = table[place] * TILE_VOXELS;
    const beside = [0, 1, 2].map((a) => {
      const t = corner[a] + (back ? 1 : -1);
      const state = t >= 0 && t < tiles[a] ? table[place + (back ? strides[a] : -strides[a])] : -1;
      return state * TILE_VOXELS;
    });
    for (let n = 0; n < TILE_VOXELS; n++) {
      const v = back ? TILE_VOXELS - 1 - n : n;
      const local = [v & 7, (v >> 3) & 7, v >> 6];
      const x = ((first[0] + corner[0]) * TILE + local[0]) * voxel;
      const y = ((first[1] + corner[1]) * TILE + local[1]) * voxel;
      const z = ((first[2] + corner[2]) * TILE + local[2]) * voxel;
      for (let a = 0; a < 3; a++) {
        const step = 1 << (3 * a);
        const isEnd = local[a] === (back ? TILE - 1 : 0);
        if (!isEnd) ask(base + v, base + v + (back ? step : -step), x, y, z);
        else if (beside[a] >= 0) ask(base + v, beside[a] + v + (back ? -7 * step : 7 * step), x, y, z);
      }
    }
    tick(TILE_VOXELS);
  };
  for (let round = 0; round < ROUNDS; round++) {
    changed = 0;
    for (const back of [false, true])
      for (let n = 0; n < table.length; n++) {
        const place = back ? table.length - 1 - n : n;
        if (table[place] < 0) continue;
        const i = place % tiles[0];
        const j = Math.floor(place / tiles[0]) % tiles[1];
        tile(place, [i, j, Math.floor(place / (tiles[0] * tiles[1]))], back);
      }
    if (changed === 0) return;
  }
}
