/** What stands in the air and around it, and how it moves. */
import { eachVoxel, INSIDE, levelLane, TILE, TILE_VOXELS, type Volume } from "../geometry/volume";
import { AIR, type AirBox, emptyLane, OPEN, SOLID, sizeOf } from "./air-grid";
import { reachOf } from "./smoke-reach";
import type { SmokeSettings } from "./smoke-state";

const middles = new WeakMap<Volume, readonly number[]>();

/** The middle of what is inside of a volume of distances, units; 0 0 0 for nothing. Found once for each. */
export function middleOf(volume: Volume): readonly number[] {
  const known = middles.get(volume);
  if (known) return known;
  const distance = levelLane(volume);
  const { voxel, first, tiles, table } = volume;
  const [sums, span] = [[0, 0, 0], TILE * voxel];
  let all = 0;
  const add = (place: readonly number[], share: number) => {
    all += share;
    for (let a = 0; a < 3; a++) sums[a] += place[a] * share;
  };
  eachVoxel(volume, (at, x, y, z) => {
    const share = Math.min(1, Math.max(0, 0.5 - distance[at] / voxel));
    if (share > 0) add([x, y, z], share);
  });
  for (let at = 0; at < table.length; at++)
    if (table[at] === INSIDE) {
      const tile = [
        at % tiles[0],
        Math.floor(at / tiles[0]) % tiles[1],
        Math.floor(at / (tiles[0] * tiles[1])),
      ];
      // From the middle of its first voxel to that of its last one.
      const middle = tile.map((t, a) => (first[a] + t) * span + (span - voxel) / 2);
      add(middle, TILE_VOXELS);
    }
  const made = sums.map((v) => (all > 0 ? v / all : 0));
  middles.set(volume, made);
  return made;
}

/** How fast each obstacle goes as a whole since the step before, at its cells: turning is not told. */
export function speedsOf(
  box: AirBox,
  { obstacles, voxel }: SmokeSettings,
  before: readonly number[],
  now: readonly number[],
  seconds: number,
): Float32Array[] | null {
  if (before.length !== now.length || now.every((v, i) => v === before[i])) return null;
  const speeds = [0, 1, 2].map(() => emptyLane(sizeOf(box)));
  for (const [o, volume] of obstacles.entries()) {
    const { cells, shares } = reachOf(volume, box, voxel);
    for (let a = 0; a < 3; a++) {
      const speed = (now[o * 3 + a] - before[o * 3 + a]) / (seconds * voxel);
      for (let n = 0; n < cells.length; n++) if (shares[n] > 0.5) speeds[a][cells[n]] = speed;
    }
  }
  return speeds;
}

/** What each cell is: walls are the cells around the box, obstacles those whose middle is in one. */
export function kindsOf(box: AirBox, { voxel, obstacles, walls }: SmokeSettings): Float32Array {
  const size = sizeOf(box);
  const [nx, ny, nz] = size;
  const kinds = emptyLane(size).fill(AIR);
  const side = walls === "closed" ? SOLID : OPEN;
  for (let k = 0, row = 0; k < nz; k++)
    for (let j = 0; j < ny; j++, row += nx) {
      // The floor is where y is 0, wherever the box begins.
      if (walls === "floor" && (box.first[1] * TILE + j - 1) * voxel < 0) kinds.fill(SOLID, row, row + nx);
      else if (j === 0 || k === 0 || j === ny - 1 || k === nz - 1) kinds.fill(side, row, row + nx);
      else kinds[row] = kinds[row + nx - 1] = side;
    }
  for (const volume of obstacles) {
    const { cells, shares } = reachOf(volume, box, voxel);
    for (let n = 0; n < cells.length; n++) if (shares[n] > 0.5) kinds[cells[n]] = SOLID;
  }
  return kinds;
}
