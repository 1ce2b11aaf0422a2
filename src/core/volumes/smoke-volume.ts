/** Smoke as a volume, to be seen, read and taken away. */
import { makeColumn, makeFloats, makeLanes } from "../geometry/column";
import { TILE, TILE_VOXELS, type Volume } from "../geometry/volume";
import { sizeOf } from "./air-grid";
import { LEAST } from "./smoke-box";
import type { Smoke } from "./smoke-state";
import { TileBox } from "./tiles";

/** The smoke as a volume: tiles in which there is any. Velocities are in units a second, at middles of cells. */
export function volumeOfSmoke({
  domains: { cells },
  numbers: { first, tiles, voxel },
}: Smoke): Volume | null {
  if (cells.count === 0) return null;
  const size = sizeOf({ first, tiles });
  const [nx, ny] = size;
  const { density, heat, velocity } = cells.columns;
  const box = new TileBox(voxel[0], first, tiles);
  const starts: number[] = [];
  let at = 0;
  for (let k = 0; k < tiles[2]; k++)
    for (let j = 0; j < tiles[1]; j++)
      for (let i = 0; i < tiles[0]; i++, at++) {
        const start = ((k * TILE + 1) * ny + j * TILE + 1) * nx + i * TILE + 1;
        if (!anyIn(density.lanes[0], start, nx, ny)) continue;
        box.add(at);
        starts.push(start);
      }
  const [made, warm] = [makeFloats(box.voxels), makeFloats(box.voxels)];
  const speeds = makeLanes("vector", box.voxels);
  const steps = [1, nx, nx * ny];
  for (const [tile, start] of starts.entries())
    for (let v = 0; v < TILE_VOXELS; v++) {
      const cell = start + ((v >> 6) * ny + ((v >> 3) & 7)) * nx + (v & 7);
      const to = tile * TILE_VOXELS + v;
      made[to] = density.lanes[0][cell];
      warm[to] = heat.lanes[0][cell];
      for (let a = 0; a < 3; a++)
        speeds[a][to] = 0.5 * voxel[0] * (velocity.lanes[a][cell] + velocity.lanes[a][cell + steps[a]]);
    }
  return box.volume(0, {
    density: makeColumn("number", [made]),
    heat: makeColumn("number", [warm]),
    velocity: makeColumn("vector", speeds),
  });
}

function anyIn(lane: ArrayLike<number>, start: number, nx: number, ny: number): boolean {
  for (let k = 0; k < TILE; k++)
    for (let j = 0; j < TILE; j++) {
      const row = start + (k * ny + j) * nx;
      for (let i = 0; i < TILE; i++) if (lane[row + i] >= LEAST) return true;
    }
  return false;
}
