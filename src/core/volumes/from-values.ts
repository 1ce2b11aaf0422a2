/** A field as a volume: worked out on every voxel of a box, of which only the tiles are kept that say something. */
import { tick } from "../cancelling";
import type { Bounds } from "../geometry/bounds";
import { type Column, type Domain, makeColumn, makeFloats, makeLanes } from "../geometry/column";
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
    let [least, most] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (let v = from; v < from + TILE_VOXELS; v++) {
      if (values[v] < least) least = values[v];
      if (values[v] > most) most = values[v];
    }
    const isFar = band === null ? most <= 0 : least >= band || most <= -band;
    if (!isFar) {
      box.add(at);
      kept.push(from);
    } else box.table[at] = band !== null && most <= -band ? INSIDE : OUTSIDE;
  }
  const lane = makeFloats(box.voxels);
  const colors = color && makeLanes("color", box.voxels);
  const limit = band ?? Number.POSITIVE_INFINITY;
  for (const [tile, from] of kept.entries())
    for (let v = 0; v < TILE_VOXELS; v++) {
      const value = values[from + v];
      lane[tile * TILE_VOXELS + v] = Math.max(band === null ? 0 : -limit, Math.min(limit, value));
      if (colors && color)
        for (let l = 0; l < 4; l++) colors[l][tile * TILE_VOXELS + v] = color.lanes[l][from + v];
    }
  return box.volume(band ?? 0, {
    [band === null ? "density" : "distance"]: makeColumn("number", [lane]),
    ...(colors ? { color: makeColumn("color", colors) } : {}),
  });
}
