/**
 * A volume as NRRD (Teem's "nearly raw raster data", format version 4): a header in plain text, an empty line, and float32 values, x fastest after
 * the values of one voxel. Tiles that are not stored are written as what they are: outside or inside.
 */
import { tick } from "../../cancelling";
import type { Shape } from "../../geometry/shape";
import { beyond, TILE, TILE_VOXELS, tileState, type Volume } from "../../geometry/volume";
import { FormatError } from "../format-error";

/** Bytes that one file has at most. */
const MOST_BYTES = 1024 ** 3;

const AXES = ["x", "y", "z", "w"];

/** @throws FormatError when no volume arrives, or it is too large */
export function writeNrrd({ volume }: Shape): Uint8Array {
  if (!volume || volume.voxels.count === 0)
    throw new FormatError("No volume reaches the stage. Only volumes leave as NRRD.");
  const { voxel, first, tiles } = volume;
  const lanes = Object.entries(volume.voxels.columns).flatMap(([name, { lanes }]) =>
    lanes.map((lane, l) => ({ name, label: lanes.length > 1 ? `${name}.${AXES[l]}` : name, lane })),
  );
  const size = tiles.map((t) => t * TILE);
  const values = lanes.length * size[0] * size[1] * size[2];
  if (values * 4 > MOST_BYTES)
    throw new FormatError(
      `The volume is ${size.join(" × ")} voxels, more than one file holds. Make its voxels larger.`,
    );
  // One value is a plain picture of three dimensions, which more programs read.
  const isList = lanes.length > 1;
  const labels = lanes.map(({ label }) => label).join(" ");
  const list = (before: string) => (isList ? `${before} ` : "");
  const header = [
    "NRRD0004",
    "# Written by Glemmo; one unit is a metre.",
    "type: float",
    `dimension: ${isList ? 4 : 3}`,
    "space dimension: 3",
    `sizes: ${list(String(lanes.length))}${size.join(" ")}`,
    `space directions: ${list("none")}(${voxel},0,0) (0,${voxel},0) (0,0,${voxel})`,
    `kinds: ${list("list")}domain domain domain`,
    `labels: ${list(`"${labels}"`)}"x" "y" "z"`,
    `space origin: (${first.map((t) => t * TILE * voxel).join(",")})`,
    `values:=${labels}`,
    "endian: little",
    "encoding: raw",
    "",
    "",
  ].join("\n");
  const head = new TextEncoder().encode(header);
  const bytes = new Uint8Array(head.length + values * 4);
  bytes.set(head);
  const view = new DataView(bytes.buffer, head.length);
  for (const [c, { name, lane }] of lanes.entries()) writeLane(volume, view, c, lanes.length, name, lane);
  return bytes;
}

function writeLane(
  volume: Volume,
  view: DataView,
  c: number,
  width: number,
  name: string,
  lane: ArrayLike<number>,
): void {
  const { first, tiles } = volume;
  const [nx, ny] = tiles.map((t) => t * TILE);
  for (let k = 0; k < tiles[2]; k++)
    for (let j = 0; j < tiles[1]; j++)
      for (let i = 0; i < tiles[0]; i++) {
        tick(TILE_VOXELS);
        const state = tileState(volume, first[0] + i, first[1] + j, first[2] + k);
        const flat = state < 0 ? beyond(volume, name, state) : 0;
        for (let v = 0; v < TILE_VOXELS; v++) {
          const [x, y, z] = [i * TILE + (v & 7), j * TILE + ((v >> 3) & 7), k * TILE + (v >> 6)];
          const at = ((z * ny + y) * nx + x) * width + c;
          view.setFloat32(at * 4, state < 0 ? flat : lane[state * TILE_VOXELS + v], true);
        }
      }
}
