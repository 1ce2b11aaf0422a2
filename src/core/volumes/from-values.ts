/** A field as a volume: worked out on every voxel of a box, of which only the tiles are kept that say something. */
import type { Bounds } from "../geometry/bounds";
import { type Column, type Domain, makeColumn, makeFloats } from "../geometry/column";
import { type Volume, voxelPlaces } from "../geometry/volume";
import { TileBox, withoutFar } from "./tiles";

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
  const [least, most] = band === null ? [0, Number.POSITIVE_INFINITY] : [-band, band];
  const lane = makeFloats(values.length);
  for (let v = 0; v < lane.length; v++) lane[v] = Math.max(least, Math.min(most, values[v]));
  const columns = {
    [band === null ? "density" : "distance"]: makeColumn("number", [lane]),
    ...(color ? { color } : {}),
  };
  return withoutFar({ ...full, band: band ?? 0, voxels: { count: full.voxels.count, columns } });
}
