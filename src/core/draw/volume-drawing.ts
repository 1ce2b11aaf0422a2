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
  // Tiles that stand, and a cell around them, so that nothing is cut off.
  const [nx, ny, nz] = tiles.map((t) => t * TILE + 2);
  const size: Vec3 = [nx, ny, nz];
  const dense = dense3(volume, density.lanes[0], size);
  const warm = heat ? dense3(volume, heat.lanes[0], size) : null;
  const [mostDensity, mostHeat] = [dense, warm].map((lane) => Math.max(0, (lane && rangeOf(lane)?.max) ?? 0));
  const light = lightIn(dense, size, voxel * look.thick * look.shade);
  const cells = new Uint8Array(nx * ny * nz * 4);
  for (let i = 0; i < dense.length; i++) {
    cells[i * 4] = mostDensity > 0 ? (dense[i] / mostDensity) * 255 : 0;
    cells[i * 4 + 1] = warm && mostHeat > 0 ? Math.max(0, warm[i] / mostHeat) * 255 : 0;
    cells[i * 4 + 2] = light[i] * 255;
  }
  const corner = (at: readonly number[]) => at as unknown as Vec3;
  return {
    size,
    min: corner(first.map((t) => (t * TILE - 1.5) * voxel)),
    max: corner(first.map((t, a) => ((t + tiles[a]) * TILE + 0.5) * voxel)),
    cells,
    mostDensity,
    mostHeat,
    look,
    matrices,
  };
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
