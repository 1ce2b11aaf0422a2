/** Volumes on another lattice: with voxels of another size, or moved, turned and scaled. */
import { tick } from "../cancelling";
import type { Bounds } from "../geometry/bounds";
import { LANES, type Lane, makeColumn, makeLanes, withColumns } from "../geometry/column";
import type { Placement } from "../geometry/transform";
import { eachVoxel, INSIDE, TILE, type Volume, VolumeReader, volumeBounds } from "../geometry/volume";
import { rotate } from "../maths/quaternion";
import type { Vec3 } from "../maths/vector";
import { TileBox } from "./tiles";

const SAME = (x: number, y: number, z: number): readonly [number, number, number] => [x, y, z];

/** With voxels of another size. @throws TooFine */
export const resampledTo = (volume: Volume, voxel: number): Volume =>
  readThrough(volume, voxel, volumeBounds(volume), SAME, 1);

/** With its voxels themselves larger or smaller, so that nothing is read anew. @param factor above 0 */
export function scaledVolume(volume: Volume, factor: number): Volume {
  if (factor === 1) return volume;
  const { voxels, voxel, band } = volume;
  const { distance } = voxels.columns;
  const farther = distance && {
    distance: makeColumn(
      "number",
      distance.lanes.map((lane) => Float32Array.from(lane, (v) => v * factor)),
    ),
  };
  return {
    ...volume,
    voxel: voxel * factor,
    band: band * factor,
    voxels: farther ? withColumns(voxels, farther) : voxels,
  };
}

/** Scaled, turned and moved; an uneven scale leaves distances true only near the surface. @throws TooFine */
export function placedVolume(volume: Volume, { move, turn, scale }: Placement): Volume {
  const box = volumeBounds(volume);
  const unturn = [-turn[0], -turn[1], -turn[2], turn[3]] as const;
  const corners =
    box &&
    [0, 1, 2, 3, 4, 5, 6, 7].map((c) => {
      const corner = [0, 1, 2].map(
        (a) => ((c >> a) & 1 ? box.max[a] : box.min[a]) * scale[a],
      ) as unknown as Vec3;
      return rotate(turn, corner).map((v, a) => v + move[a]);
    });
  const bounds = corners && {
    min: [0, 1, 2].map((a) => Math.min(...corners.map((corner) => corner[a]))) as unknown as Vec3,
    max: [0, 1, 2].map((a) => Math.max(...corners.map((corner) => corner[a]))) as unknown as Vec3,
  };
  const least = Math.min(...scale.map(Math.abs));
  return readThrough(
    volume,
    volume.voxel,
    bounds,
    (x, y, z) => {
      const [px, py, pz] = rotate(unturn, [x - move[0], y - move[1], z - move[2]]);
      return [px / scale[0], py / scale[1], pz / scale[2]];
    },
    least,
  );
}

/**
 * A volume read through a change of places.
 * @param bounds where anything of it is afterwards
 * @param back from a place afterwards to where it was
 * @param scale by which distances grow
 */
export function readThrough(
  volume: Volume,
  voxel: number,
  bounds: Bounds | null,
  back: Back,
  scale: number,
): Volume {
  const { columns } = volume.voxels;
  if (!bounds) return new TileBox(voxel, volume.first, [0, 0, 0]).volume(volume.band, {});
  const box = TileBox.around(bounds, voxel, voxel);
  standWhereTold(box, volume, back);
  const made = Object.fromEntries(
    Object.entries(columns).map(([name, { kind }]) => {
      const lanes = makeLanes(kind, box.voxels);
      for (let l = 0; l < LANES[kind]; l++)
        readInto(lanes[l], box, new VolumeReader(volume, name, l), back, name === "distance" ? scale : 1);
      return [name, makeColumn(kind, lanes)];
    }),
  );
  return box.volume(volume.band * scale, made);
}

type Back = (x: number, y: number, z: number) => readonly [number, number, number];

/** Lets the tiles stand some of whose places say anything; the others are told their side. */
function standWhereTold(box: TileBox, volume: Volume, back: Back): void {
  const isDistance = volume.voxels.columns.distance !== undefined;
  const level = new VolumeReader(volume, isDistance ? "distance" : "density");
  const span = box.voxel * TILE;
  for (let at = 0; at < box.table.length; at++) {
    tick(8);
    const tile = [at % box.tiles[0], Math.floor(at / box.tiles[0]) % box.tiles[1]];
    tile.push(Math.floor(at / (box.tiles[0] * box.tiles[1])));
    const corner = tile.map((t, a) => (box.first[a] + t) * span);
    if (isNear(level, corner, span, back, isDistance ? volume.band : null)) box.add(at);
    else if (isDistance) {
      const middle = corner.map((v) => v + span / 2);
      if (level.at(...back(middle[0], middle[1], middle[2])) < 0) box.table[at] = INSIDE;
    }
  }
}

function readInto(lane: Lane, box: TileBox, reader: VolumeReader, back: Back, times: number): void {
  eachVoxel(box, (at, x, y, z) => {
    const from = back(x, y, z);
    lane[at] = times * reader.at(from[0], from[1], from[2]);
  });
}

/** Places in a tile that are looked at along each axis. */
const PROBES = 3;

/** @param band of distances; null for densities */
function isNear(
  level: VolumeReader,
  corner: readonly number[],
  span: number,
  back: Back,
  band: number | null,
): boolean {
  const step = span / (PROBES - 1);
  for (let n = 0; n < PROBES ** 3; n++) {
    const at = [n % PROBES, Math.floor(n / PROBES) % PROBES, Math.floor(n / PROBES ** 2)];
    const value = level.at(
      ...back(corner[0] + at[0] * step, corner[1] + at[1] * step, corner[2] + at[2] * step),
    );
    if (band === null ? value > 0 : Math.abs(value) < band * (1 - 1e-6)) return true;
  }
  return false;
}
