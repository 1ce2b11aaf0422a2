/** Volumes that a field moves, and two that are blended: fields are worked out where the voxels stand afterwards. */
import { tick } from "../cancelling";
import { type Bounds, joinBounds } from "../geometry/bounds";
import { type Domain, LANES, makeColumn, makeFloats, makeLanes } from "../geometry/column";
import {
  eachTile,
  TILE,
  tileState,
  type Volume,
  VolumeReader,
  volumeBounds,
  voxelPlaces,
} from "../geometry/volume";
import { greatestOf } from "../kernels/statistics";
import { fullVolume, placedVoxels } from "./from-values";
import { toldTo } from "./reshape";
import { TileBox, withoutFar } from "./tiles";

/** What a field says on a domain that has places: a lane for each of its numbers. */
type AskField = (domain: Domain) => readonly Float32Array[];

/** Every place as it was where the field took it from: what stands at p stood at p less what the field says there. @throws TooFine */
export function movedVolume(volume: Volume, by: AskField): Volume {
  const reach = greatestOf(by(placedVoxels(volume)));
  const bounds = volumeBounds(volume);
  if (!bounds || reach === 0) return volume;
  const made = reachedBox(volume, bounds, reach).volume(volume.band, {});
  const [dx, dy, dz] = by(placedVoxels(made));
  const [x, y, z] = voxelPlaces(made);
  const columns = Object.entries(volume.voxels.columns).map(([name, { kind }]) => {
    const lanes = makeLanes(kind, made.voxels.count);
    for (let l = 0; l < LANES[kind]; l++) {
      const reader = new VolumeReader(volume, name, l);
      for (let v = 0; v < x.length; v++) {
        tick(0.5);
        lanes[l][v] = reader.at(x[v] - dx[v], y[v] - dy[v], z[v] - dz[v]);
      }
    }
    return [name, makeColumn(kind, lanes)] as const;
  });
  return withoutFar({ ...made, voxels: { count: made.voxels.count, columns: Object.fromEntries(columns) } });
}

/** A box whose tiles stand wherever one of a volume may come to; elsewhere nothing comes from farther than that, so its side is what it was. */
function reachedBox(volume: Volume, bounds: Bounds, reach: number): TileBox {
  const box = TileBox.around(bounds, volume.voxel, reach + volume.voxel);
  const [nx, ny, nz] = box.tiles;
  for (let at = 0; at < box.table.length; at++) {
    const tile = [at % nx, Math.floor(at / nx) % ny, Math.floor(at / (nx * ny))];
    const [i, j, k] = tile.map((t, a) => t + box.first[a]);
    const state = tileState(volume, i, j, k);
    if (state < 0) box.table[at] = state;
  }
  const wide = Math.ceil(reach / (volume.voxel * TILE));
  eachTile(volume, (_, x, y, z) => {
    const [i, j, k] = [x - box.first[0], y - box.first[1], z - box.first[2]];
    for (let c = Math.max(0, k - wide); c <= Math.min(nz - 1, k + wide); c++)
      for (let b = Math.max(0, j - wide); b <= Math.min(ny - 1, j + wide); b++)
        for (let a = Math.max(0, i - wide); a <= Math.min(nx - 1, i + wide); a++)
          box.add((c * ny + b) * nx + a);
  });
  return box;
}

/**
 * From one volume of distances to another: each voxel's distance between both, and so the surface.
 * @param amount 0 for the first, 1 for the second, asked on the voxels of a box around both
 * @throws TooFine
 */
export function blendedVolumes(first: Volume, second: Volume, amount: AskField): Volume | null {
  const [boundsA, boundsB] = [volumeBounds(first), volumeBounds(second)];
  if (!boundsA || !boundsB) return boundsA ? first : second;
  const bounds = joinBounds([boundsA, boundsB]) ?? boundsA;
  // Far from the one's surface the other's may pass, so both have to tell distances as far as the box goes.
  const far = Math.max(...bounds.max.map((v, a) => v - bounds.min[a]));
  const pair = [toldTo(first, far), toldTo(second, far)];
  const [a, b] = pair;
  if (!a || !b) return null;
  const full = fullVolume(bounds, first.voxel);
  const [t] = amount(placedVoxels(full));
  const [x, y, z] = voxelPlaces(full);
  const names = Object.keys(a.voxels.columns).filter((name) => b.voxels.columns[name]);
  const columns = names.map((name) => {
    const { kind } = a.voxels.columns[name];
    const lanes = Array.from({ length: LANES[kind] }, (_, l) => {
      const readers = [new VolumeReader(a, name, l), new VolumeReader(b, name, l)];
      const lane = makeFloats(x.length);
      for (let v = 0; v < lane.length; v++) {
        tick();
        const from = readers[0].at(x[v], y[v], z[v]);
        lane[v] = from + (readers[1].at(x[v], y[v], z[v]) - from) * t[v];
      }
      return lane;
    });
    return [name, makeColumn(kind, lanes)] as const;
  });
  const band = Math.max(first.band, second.band, 2 * first.voxel);
  const made = { ...full, voxels: { count: full.voxels.count, columns: Object.fromEntries(columns) } };
  const distance = made.voxels.columns.distance.lanes[0] as Float32Array;
  for (let v = 0; v < distance.length; v++) distance[v] = Math.max(-band, Math.min(band, distance[v]));
  return withoutFar({ ...made, band });
}
