/** Tiles that are collected before anything stands in them. */

import type { Bounds } from "../geometry/bounds";
import { gather, type Lane } from "../geometry/column";
import { INSIDE, levelLane, OUTSIDE, TILE, TILE_VOXELS, type Volume } from "../geometry/volume";
import type { Vec3 } from "../maths/vector";

/** Places of tiles that one box has at most: their table alone takes 64 MB then. */
const MOST_PLACES = 16 * 2 ** 20;

/** More than can be held. */
export class TooFine extends Error {}

/** A box of tiles, none of which stands yet. */
export class TileBox {
  readonly table: Int32Array;
  /** How many stand. */
  count = 0;

  constructor(
    readonly voxel: number,
    readonly first: Vec3,
    readonly tiles: Vec3,
  ) {
    const places = tiles[0] * tiles[1] * tiles[2];
    if (!(places <= MOST_PLACES)) throw new TooFine();
    this.table = new Int32Array(places).fill(OUTSIDE);
  }

  /** Around all that lies in bounds and so many units farther. */
  static around({ min, max }: Bounds, voxel: number, margin: number): TileBox {
    const span = voxel * TILE;
    const first = min.map((v) => Math.floor((v - margin) / span)) as unknown as Vec3;
    const tiles = max.map((v, a) => Math.floor((v + margin) / span) - first[a] + 1) as unknown as Vec3;
    return new TileBox(voxel, first, tiles);
  }

  /** Lets a tile stand, by its place in the table. @returns its number */
  add(at: number): number {
    if (this.table[at] < 0) this.table[at] = this.count++;
    return this.table[at];
  }

  /** Numbers of voxels from and to which bounds reach along an axis, within the box. */
  reach(axis: 0 | 1 | 2, low: number, high: number): readonly [number, number] {
    const { voxel, first, tiles } = this;
    const [from, to] = [first[axis] * TILE, (first[axis] + tiles[axis]) * TILE - 1];
    return [Math.max(from, Math.ceil(low / voxel)), Math.min(to, Math.floor(high / voxel))];
  }

  get voxels(): number {
    return this.count * TILE_VOXELS;
  }

  volume(band: number, columns: Volume["voxels"]["columns"]): Volume {
    const { voxel, first, tiles, table } = this;
    return { voxel, band, first, tiles, table, voxels: { count: this.voxels, columns } };
  }
}

/** What all of a tile is; null where it says more than its side. @param band of distances; null for densities */
function sideOf(values: Lane, band: number | null): number | null {
  let [least, most] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const value of values) {
    if (value < least) least = value;
    if (value > most) most = value;
  }
  if (band === null) return most <= 0 ? OUTSIDE : null;
  if (least >= band) return OUTSIDE;
  return most <= -band ? INSIDE : null;
}

/** Without the tiles that say nothing but their side. */
export function withoutFar(volume: Volume): Volume {
  const { table, voxels } = volume;
  const band = voxels.columns.distance ? volume.band : null;
  const values = levelLane(volume);
  const kept: number[] = [];
  const thinned = table.map((tile) => {
    if (tile < 0) return tile;
    const side = sideOf(values.subarray(tile * TILE_VOXELS, (tile + 1) * TILE_VOXELS), band);
    return side ?? kept.push(tile) - 1;
  });
  if (kept.length * TILE_VOXELS === voxels.count) return volume;
  const numbers = new Int32Array(kept.length * TILE_VOXELS);
  for (const [k, tile] of kept.entries())
    for (let v = 0; v < TILE_VOXELS; v++) numbers[k * TILE_VOXELS + v] = tile * TILE_VOXELS + v;
  return { ...volume, table: thinned, voxels: gather(voxels, numbers) };
}
