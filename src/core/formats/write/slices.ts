/**
 * A volume as a stack of pictures across z, in one ZIP (PKWARE APPNOTE 6.3.3): PNG of 16-bit grey between the least and the greatest value, or OpenEXR
 * of the values themselves; and a text that says what they are.
 */
import { encode } from "fast-png";
import { strToU8, zipSync } from "fflate";
import { tick } from "../../cancelling";
import type { Shape } from "../../geometry/shape";
import { levelLane, levelName, TILE, VolumeReader } from "../../geometry/volume";
import { rangeOf } from "../../kernels/statistics";
import { FormatError } from "../format-error";
import { writeExr } from "./exr";

/** Voxels of a stack at most. */
const MOST = 2 ** 27;
const WHITE = 65_535;

/** @throws FormatError when no volume arrives, or it is too large */
export function writeSlices({ volume }: Shape, as: "png" | "exr"): Uint8Array {
  if (!volume || volume.voxels.count === 0)
    throw new FormatError("No volume reaches the stage. Only volumes leave as slices.");
  const [nx, ny, nz] = volume.tiles.map((t) => t * TILE);
  if (nx * ny * nz > MOST)
    throw new FormatError(
      `The volume is ${nx} × ${ny} × ${nz} voxels, too many slices. Make its voxels larger.`,
    );
  const name = levelName(volume);
  const { min, max } = rangeOf(levelLane(volume)) ?? { min: 0, max: 0 };
  const reader = new VolumeReader(volume, name);
  const first = volume.first.map((t) => t * TILE);
  const files: Record<string, Uint8Array> = {
    "slices.txt": strToU8(
      [
        `${nz} slices of ${nx} × ${ny} voxels, from the lowest z on; rows from the top, which is the greatest y`,
        `value: ${name}`,
        `black: ${min}`,
        `white: ${max}`,
        `voxel: ${volume.voxel} units`,
        `first voxel at: ${first.map((v) => v * volume.voxel).join(" ")}`,
        "",
      ].join("\n"),
    ),
  };
  for (let k = 0; k < nz; k++) {
    const values = new Float32Array(nx * ny);
    for (let row = 0; row < ny; row++)
      for (let i = 0; i < nx; i++)
        values[row * nx + i] = reader.voxel(first[0] + i, first[1] + ny - 1 - row, first[2] + k);
    tick(values.length);
    const number = String(k).padStart(4, "0");
    files[`slice-${number}.${as}`] =
      as === "png" ? greyPng(values, nx, ny, min, max) : greyExr(values, nx, ny);
  }
  // Pictures are packed already.
  return zipSync(files, { level: 0 });
}

function greyPng(values: Float32Array, width: number, height: number, min: number, max: number): Uint8Array {
  const data = Uint16Array.from(values, (v) =>
    max > min ? Math.round(Math.min(1, Math.max(0, (v - min) / (max - min))) * WHITE) : 0,
  );
  return encode({ width, height, data, depth: 16, channels: 1 });
}

const greyExr = (values: Float32Array, width: number, height: number): Uint8Array =>
  writeExr(width, height, [{ name: "Y", values }]);
