/** Sites that stand in volumes: where they may, and how deep they are. */
import { tick } from "../cancelling";
import { type Domain, makeColumn, makeFloats, withColumns } from "../geometry/column";
import { INSIDE, levelLane, levelName, TILE_VOXELS, type Volume, VolumeReader } from "../geometry/volume";
import { rangeOf } from "../kernels/statistics";
import { VolumeQuestions } from "./questions";

/** Whether a place counts: inside of distances; of densities as often as they are high. @param draw numbers from 0 to 1 by a number and a channel */
export function countsIn(
  volume: Volume,
  draw: (n: number, channel: number) => number,
): (x: number, y: number, z: number, n: number) => boolean {
  const questions = new VolumeQuestions(volume, "");
  if (levelName(volume) === "distance") return (x, y, z) => questions.isInside(x, y, z);
  const most = rangeOf(levelLane(volume))?.max ?? 0;
  return (x, y, z, n) => questions.value(x, y, z) > draw(n, 3) * most;
}

/** Cubic units inside, by voxels. */
export function insideVolume(volume: Volume): number {
  const lane = levelLane(volume);
  const isDistance = levelName(volume) === "distance";
  let voxels = volume.table.filter((state) => state === INSIDE).length * TILE_VOXELS;
  for (let i = 0; i < lane.length; i++) if (isDistance ? lane[i] < 0 : lane[i] > 0) voxels++;
  return voxels * volume.voxel ** 3;
}

/** Sites with `depth`: units below the surface, as far as distances are told; of densities what they are. */
export function withDepth(sites: Domain, volume: Volume): Domain {
  const reader = new VolumeReader(volume, levelName(volume));
  const turn = levelName(volume) === "distance" ? -1 : 1;
  const [x, y, z] = sites.columns.position.lanes;
  const depth = makeFloats(sites.count);
  for (let i = 0; i < sites.count; i++) {
    tick();
    depth[i] = turn * reader.at(x[i], y[i], z[i]);
  }
  return withColumns(sites, { depth: makeColumn("number", [depth]) });
}
