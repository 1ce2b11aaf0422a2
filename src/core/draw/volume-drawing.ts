/** Volumes of densities as a graphics card takes them: what each cell holds, and how much light comes to it through the others. */
import { tick } from "../cancelling";
import { eachTile, TILE, TILE_VOXELS, type Volume } from "../geometry/volume";
import { USUAL_VOLUME_LOOK, type VolumeLook } from "../geometry/volume-look";
import { rangeOf } from "../kernels/statistics";
import { exponential } from "../maths/exact";
import type { Vec3 } from "../maths/vector";

export interface DrawVolume {
  /** Cells along x, y and z. */
  readonly size: Vec3;
  /** Corners of the box, in units. */
  readonly min: Vec3;
  readonly max: Vec3;
  /** Four bytes a cell: density and heat as parts of the most there is, light from 0 to 255, and nothing. */
  readonly cells: Uint8Array;
  readonly mostDensity: number;
  readonly mostHeat: number;
  readonly look: VolumeLook;
  /** Of its copies. */
  readonly matrices: Float32Array;
}

/** Where daylight's key is; light in volumes comes from there, and is swept down layer by layer. */
export const DAYLIGHT_FROM: Vec3 = [0.62, 1, 0.5];

export function volumeDrawing(volume: Volume, matrices: Float32Array): DrawVolume | null {
  const { density, heat } = volume.voxels.columns;
  if (!density || density.lanes[0].length === 0) return null;
  const look = volume.look ?? USUAL_VOLUME_LOOK;
  const { voxel, first, tiles } = volume;
  // Tiles that stand, and a cell around them.
  const [nx, ny, nz] = tiles.map((t) => t * TILE + 2);
  const whole: Vec3 = [nx, ny, nz];
  const dense = dense3(volume, density.lanes[0], whole);
  const warm = heat ? dense3(volume, heat.lanes[0], whole) : null;
  const [mostDensity, mostHeat] = [dense, warm].map((lane) => Math.max(0, (lane && rangeOf(lane)?.max) ?? 0));
  if (mostDensity === 0) return null;
  const light = lightIn(dense, whole, voxel * look.thick * look.shade);
  const { low, size } = seenPart(dense, whole, mostDensity);
  const cells = new Uint8Array(size[0] * size[1] * size[2] * 4);
  let to = 0;
  for (let k = 0; k < size[2]; k++)
    for (let j = 0; j < size[1]; j++)
      for (let i = 0; i < size[0]; i++, to += 4) {
        const from = ((low[2] + k) * ny + low[1] + j) * nx + low[0] + i;
        cells[to] = (dense[from] / mostDensity) * 255;
        cells[to + 1] = warm && mostHeat > 0 ? Math.max(0, warm[from] / mostHeat) * 255 : 0;
        cells[to + 2] = light[from] * 255;
      }
  const corner = (past: (a: number) => number) =>
    first.map((t, a) => (t * TILE + low[a] - 1.5 + past(a)) * voxel) as unknown as Vec3;
  return {
    size,
    min: corner(() => 0),
    max: corner((a) => size[a]),
    cells,
    mostDensity,
    mostHeat,
    look,
    matrices,
  };
}

/** The cells that are dense enough to be written as more than 0, and one around them, so that nothing is cut off. */
function seenPart(
  dense: Float32Array,
  [nx, ny, nz]: Vec3,
  mostDensity: number,
): { readonly low: Vec3; readonly size: Vec3 } {
  const least = mostDensity / 255;
  const [low, high] = [
    [nx, ny, nz],
    [-1, -1, -1],
  ];
  for (let k = 0, at = 0; k < nz; k++)
    for (let j = 0; j < ny; j++, at += nx)
      for (let i = 0; i < nx; i++) {
        if (!(dense[at + i] >= least)) continue;
        low[0] = Math.min(low[0], i);
        low[1] = Math.min(low[1], j);
        low[2] = Math.min(low[2], k);
        high[0] = Math.max(high[0], i);
        high[1] = Math.max(high[1], j);
        high[2] = Math.max(high[2], k);
      }
  const from = low.map((v) => Math.max(0, v - 1));
  const to = high.map((v, a) => Math.min([nx, ny, nz][a] - 1, v + 1));
  return { low: from as unknown as Vec3, size: to.map((v, a) => v - from[a] + 1) as unknown as Vec3 };
}

/** All cells of the box, 0 where no tile stands. */
function dense3(volume: Volume, lane: ArrayLike<number>, [nx, ny, nz]: Vec3): Float32Array {
  const made = new Float32Array(nx * ny * nz);
  const { first } = volume;
  eachTile(volume, (tile, x, y, z) => {
    tick(TILE_VOXELS / 8);
    const corner =
      ((z - first[2]) * TILE + 1) * ny * nx + ((y - first[1]) * TILE + 1) * nx + (x - first[0]) * TILE + 1;
    for (let v = 0; v < TILE_VOXELS; v++)
      made[corner + (v >> 6) * ny * nx + ((v >> 3) & 7) * nx + (v & 7)] = lane[tile * TILE_VOXELS + v];
  });
  return made;
}

/** How much light comes to each cell, 0 to 1: what came to where the ray left the layer above, less what it met on the way. */
function lightIn(dense: Float32Array, [nx, ny, nz]: Vec3, darkness: number): Float32Array {
  const light = new Float32Array(dense.length).fill(1);
  const [dx, dz] = [DAYLIGHT_FROM[0] / DAYLIGHT_FROM[1], DAYLIGHT_FROM[2] / DAYLIGHT_FROM[1]];
  const long = Math.sqrt(dx * dx + dz * dz + 1);
  const layer = nx * ny;
  for (let j = ny - 2; j >= 0; j--)
    for (let k = 0; k < nz; k++) {
      tick(nx / 2);
      for (let i = 0; i < nx; i++) {
        const [x, z] = [i + dx, k + dz];
        const [x0, z0] = [Math.floor(x), Math.floor(z)];
        // Beyond the box nothing is in the way.
        if (x0 + 1 >= nx || z0 + 1 >= nz) continue;
        const [u, w] = [x - x0, z - z0];
        const above = z0 * layer + (j + 1) * nx + x0;
        const through = (lane: Float32Array) =>
          (lane[above] * (1 - u) + lane[above + 1] * u) * (1 - w) +
          (lane[above + layer] * (1 - u) + lane[above + layer + 1] * u) * w;
        light[k * layer + j * nx + i] = through(light) * exponential(-darkness * long * through(dense));
      }
    }
  return light;
}
