/**
 * Values on the cubes of a lattice, in tiles of 8 × 8 × 8 that are there only where there is something to say. All volumes of one voxel size
 * stand on one lattice, whose voxel (i, j, k) has its middle at (i, j, k) × voxel, so they are combined without being read in between.
 *
 * - `voxels`: a domain, 512 elements a tile, x fastest. Columns: `distance` (units to a surface, below 0 inside of it, cut off at the band) or
 *   `density` (from 0 on), and any others.
 * - `table`: for each place of a tile in the box, x fastest, the number of the tile that stands there, or what all of it is: OUTSIDE or INSIDE.
 */
import { tick } from "../cancelling";
import type { Vec3 } from "../maths/vector";
import { type Domain, makeFloats } from "./column";
import type { VolumeLook } from "./volume-look";

export const TILE = 8;
export const TILE_VOXELS = TILE * TILE * TILE;

/** Of tiles that are not stored. */
export const OUTSIDE = -1;
export const INSIDE = -2;

export interface Volume {
  /** Units along an edge of a voxel. */
  readonly voxel: number;
  /** Units to which distances are told; 0 for densities. */
  readonly band: number;
  /** The first tile of the box, in tiles. */
  readonly first: Vec3;
  /** Tiles of the box along x, y and z. */
  readonly tiles: Vec3;
  readonly table: Int32Array;
  readonly voxels: Domain;
  /** How it is seen; as usual where it says nothing. */
  readonly look?: VolumeLook;
}

/** A density that is taken for a surface where none is said. */
export const USUAL_DENSITY = 0.5;

/** The column that says where a volume's surface is. */
export const levelName = ({ voxels }: Volume): "distance" | "density" =>
  voxels.columns.distance ? "distance" : "density";

/** The numbers of that column. */
export const levelLane = (volume: Volume): Float32Array =>
  volume.voxels.columns[levelName(volume)].lanes[0] as Float32Array;

/** What a column of distances or densities is where no tile stands. */
export const beyond = ({ band }: Volume, name: string, state: number): number => {
  if (name === "distance") return state === INSIDE ? -band : band;
  return name === "density" && state === INSIDE ? 1 : 0;
};

/** What a table says of a tile: its number, OUTSIDE (beyond the box too) or INSIDE. Coordinates are those of the lattice, in tiles. */
export function tileState(
  { first, tiles, table }: Pick<Volume, "first" | "tiles" | "table">,
  x: number,
  y: number,
  z: number,
): number {
  const [i, j, k] = [x - first[0], y - first[1], z - first[2]];
  if (i < 0 || j < 0 || k < 0 || i >= tiles[0] || j >= tiles[1] || k >= tiles[2]) return OUTSIDE;
  return table[(k * tiles[1] + j) * tiles[0] + i];
}

/** Calls with every tile that is stored: its number, and its place in tiles. */
export function eachTile(
  { first, tiles, table }: Pick<Volume, "first" | "tiles" | "table">,
  call: (tile: number, x: number, y: number, z: number) => void,
): void {
  for (let at = 0, k = 0; k < tiles[2]; k++)
    for (let j = 0; j < tiles[1]; j++)
      for (let i = 0; i < tiles[0]; i++, at++)
        if (table[at] >= 0) call(table[at], first[0] + i, first[1] + j, first[2] + k);
}

/** Calls with every voxel that is stored: its number, and where its middle is in units. */
export function eachVoxel(
  volume: Pick<Volume, "voxel" | "first" | "tiles" | "table">,
  call: (at: number, x: number, y: number, z: number) => void,
): void {
  const { voxel } = volume;
  eachTile(volume, (tile, x, y, z) => {
    tick(TILE_VOXELS);
    for (let v = 0; v < TILE_VOXELS; v++)
      call(
        tile * TILE_VOXELS + v,
        (x * TILE + (v & 7)) * voxel,
        (y * TILE + ((v >> 3) & 7)) * voxel,
        (z * TILE + (v >> 6)) * voxel,
      );
  });
}

const places = new WeakMap<Int32Array, readonly Float32Array[]>();

/** Where the middle of each voxel is; shared by volumes of one table. */
export function voxelPlaces(volume: Volume): readonly Float32Array[] {
  const known = places.get(volume.table);
  if (known) return known;
  const lanes = [0, 1, 2].map(() => new Float32Array(volume.voxels.count));
  eachVoxel(volume, (at, x, y, z) => {
    lanes[0][at] = x;
    lanes[1][at] = y;
    lanes[2][at] = z;
  });
  places.set(volume.table, lanes);
  return lanes;
}

/** The box of all tiles that say something; null when none does. */
export function volumeBounds({
  voxel,
  first,
  tiles,
  table,
}: Volume): { readonly min: Vec3; readonly max: Vec3 } | null {
  if (!table.some((state) => state !== OUTSIDE)) return null;
  const at = (corner: Vec3): [number, number, number] =>
    corner.map((t) => (t * TILE - 0.5) * voxel) as [number, number, number];
  return { min: at(first), max: at([first[0] + tiles[0], first[1] + tiles[1], first[2] + tiles[2]]) };
}

/** Reads one column between voxels, by three straight ways (trilinear); keeps where it last was, as places come in order. */
export class VolumeReader {
  private readonly lane: Float32Array;
  private readonly inside: number;
  private readonly outside: number;
  private tile = [Number.NaN, 0, 0];
  private state = OUTSIDE;

  /** @param lane of the column when it has several */
  constructor(
    private readonly volume: Volume,
    name: string,
    lane = 0,
  ) {
    this.lane = (volume.voxels.columns[name]?.lanes[lane] ?? makeFloats(volume.voxels.count)) as Float32Array;
    this.inside = beyond(volume, name, INSIDE);
    this.outside = beyond(volume, name, OUTSIDE);
  }

  /** Of a voxel of the lattice. */
  voxel(i: number, j: number, k: number): number {
    const [x, y, z] = [i >> 3, j >> 3, k >> 3];
    if (x !== this.tile[0] || y !== this.tile[1] || z !== this.tile[2]) {
      this.tile[0] = x;
      this.tile[1] = y;
      this.tile[2] = z;
      this.state = tileState(this.volume, x, y, z);
    }
    if (this.state < 0) return this.state === INSIDE ? this.inside : this.outside;
    return this.lane[this.state * TILE_VOXELS + ((k & 7) << 6) + ((j & 7) << 3) + (i & 7)];
  }

  /** At a place in units. */
  at(x: number, y: number, z: number): number {
    const { voxel } = this.volume;
    const [px, py, pz] = [x / voxel, y / voxel, z / voxel];
    const [i, j, k] = [Math.floor(px), Math.floor(py), Math.floor(pz)];
    const [u, v, w] = [px - i, py - j, pz - k];
    const near = this.along(i, j, k, u);
    const far = this.along(i, j, k + 1, u);
    const low = near + (this.along(i, j + 1, k, u) - near) * v;
    return low + (far + (this.along(i, j + 1, k + 1, u) - far) * v - low) * w;
  }

  /** From one voxel to the next along x. */
  private along(i: number, j: number, k: number, u: number): number {
    const a = this.voxel(i, j, k);
    return a + (this.voxel(i + 1, j, k) - a) * u;
  }
}
