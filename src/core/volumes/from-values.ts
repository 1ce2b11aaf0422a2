/** A field as a volume: worked out on every voxel of a box, of which only the tiles are kept that say something. */
import { tick } from "../cancelling";
import type { Bounds } from "../geometry/bounds";
import { type Column, type Domain, makeColumn, makeFloats } from "../geometry/column";
import { INSIDE, OUTSIDE, TILE_VOXELS, type Volume, voxelPlaces } from "../geometry/volume";
import { TileBox } from "./tiles";

/** All voxels of a box. @throws TooFine */
export function fullVolume(bounds: Bounds, voxel: number): Volume {
  const box = TileBox.around(bounds, voxel, voxel);
  for (let at = 0; at < box.table.length; at++) box.add(at);
  return box.volume(0, {});
}

/** Its voxels with their places, for fields to be worked out on. */
export const placedVoxels = (volume: Volume): Domain => ({
  count: volume.voxels.count,
  columns: { ...volume.voxels.columns, position: makeColumn("vector", voxelPlaces(volume)) },
});

/** Those tiles of a full volume that say something, with the values there. @param band units of distances; null for densities */
export function volumeOfValues(
  full: Volume,
  values: Float32Array,
  band: number | null,
  color?: Column,
): Volume {
  const box = new TileBox(full.voxel, full.first, full.tiles);
  const kept: number[] = [];
  for (let at = 0; at < full.table.length; at++) {
    tick(TILE_VOXELS / 8);
    const from = full.table[at] * TILE_VOXELS;
    const side = sideOf(values.subarray(from, from + TILE_VOXELS), band);
    if (side === null) {
      box.add(at);
      kept.push(from);
    } else box.table[at] = side;
  }
  const limit = band ?? Number.POSITIVE_INFINITY;
  const lane = gathered(values, kept);
  for (let v = 0; v < lane.length; v++)
    lane[v] = Math.max(band === null ? 0 : -limit, Math.min(limit, lane[v]));
  return box.volume(band ?? 0, {
    [band === null ? "density" : "distance"]: makeColumn("number", [lane]),
    ...(color
      ? {
          color: makeColumn(
            "color",
            color.lanes.map((from) => gathered(from, kept)),
          ),
        }
      : {}),
  });
}

/** What all of a tile is; null where it says more than its side. */
function sideOf(values: Float32Array, band: number | null): number | null {
  let [least, most] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const value of values) {
    if (value < least) least = value;
    if (value > most) most = value;
  }
  if (band === null) return most <= 0 ? OUTSIDE : null;
  if (least >= band) return OUTSIDE;
  return most <= -band ? INSIDE : null;
}

/** Tiles of a lane, by where they begin. */
function gathered(lane: ArrayLike<number>, starts: readonly number[]): Float32Array {
  const made = makeFloats(starts.length * TILE_VOXELS);
  for (const [tile, from] of starts.entries())
    for (let v = 0; v < TILE_VOXELS; v++) made[tile * TILE_VOXELS + v] = lane[from + v];
  return made;
}
