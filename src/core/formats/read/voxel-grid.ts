/** Values on all voxels of a box, as files hold them, to a volume on our lattice. */
import { tick } from "../../cancelling";
import { type ColumnKind, type Columns, makeColumn, makeFloats } from "../../geometry/column";
import type { Shape } from "../../geometry/shape";
import { eachVoxel, type Volume } from "../../geometry/volume";
import type { Vec3 } from "../../maths/vector";
import { TileBox, TooFine, withoutFar } from "../../volumes/tiles";
import { FormatError } from "../format-error";

/** Voxels of a file at most. */
export const MOST_VOXELS = 2 ** 27;

export interface VoxelGrid {
  readonly size: Vec3;
  /** Units between the middles of voxels along x, y and z; where the middle of the first one is. */
  readonly spacing: Vec3;
  readonly origin: Vec3;
  /** One has to be `distance` or `density`. Lanes are x fastest. */
  readonly values: Readonly<
    Record<string, { readonly kind: ColumnKind; readonly lanes: readonly ArrayLike<number>[] }>
  >;
}

/** @throws FormatError before anything is made of what is too large, or has no voxels */
export function checkGridSize(size: readonly number[]): void {
  const [x, y, z] = size;
  if (!size.every((n) => Number.isInteger(n) && n > 0)) throw new FormatError("it has no voxels.");
  if (x * y * z > MOST_VOXELS)
    throw new FormatError(
      `it is ${x} × ${y} × ${z} voxels; the limit is ${Math.floor(MOST_VOXELS / 1e6)} million. Make it coarser first.`,
    );
}

/**
 * The grid's values on our lattice: as they are where its voxels are cubes (moved by less than half of one, so that they lie on the lattice);
 * else between them, on cubes as small as the least side.
 * @throws FormatError
 */
export function shapeOfGrid(grid: VoxelGrid): Shape {
  checkGridSize(grid.size);
  const { size, spacing, origin, values } = grid;
  const voxel = Math.min(...spacing);
  const isEven = spacing.every((s) => Math.abs(s / voxel - 1) < 1e-4);
  const start = isEven ? origin.map((v) => Math.round(v / voxel) * voxel) : origin;
  const end = start.map((v, a) => v + (size[a] - 1) * spacing[a]) as unknown as Vec3;
  const full = standing({ min: start as unknown as Vec3, max: end }, voxel);
  const columns: Columns = Object.fromEntries(
    Object.entries(values).map(([name, { kind, lanes }]) => [
      name,
      makeColumn(
        kind,
        lanes.map((lane) => onLattice(full, lane, { size, spacing, start, isEven }, name)),
      ),
    ]),
  );
  const band = columns.distance ? greatest(columns.distance.lanes[0]) : 0;
  const volume: Volume = full.volume(band, columns);
  return { volume: withoutFar(volume) };
}

function standing(bounds: { min: Vec3; max: Vec3 }, voxel: number): TileBox {
  try {
    const box = TileBox.around(bounds, voxel, voxel / 4);
    for (let at = 0; at < box.table.length; at++) box.add(at);
    return box;
  } catch (error) {
    if (!(error instanceof TooFine)) throw error;
    throw new FormatError("its voxels are far longer than wide, so that it cannot be laid on cubes.");
  }
}

interface Placed {
  readonly size: Vec3;
  readonly spacing: Vec3;
  readonly start: readonly number[];
  readonly isEven: boolean;
}

/** Beyond the file's voxels the nearest of them goes on for distances; densities are 0 there. */
function onLattice(
  box: TileBox,
  lane: ArrayLike<number>,
  { size, spacing, start, isEven }: Placed,
  name: string,
): Float32Array {
  const [nx, ny, nz] = size;
  const made = makeFloats(box.voxels);
  const goesOn = name === "distance";
  const within = (v: number, n: number) => v > -0.5 && v < n - 0.5;
  const clamp = (v: number, n: number) => Math.min(n - 1, Math.max(0, v));
  const read = (i: number, j: number, k: number) =>
    lane[(clamp(k, nz) * ny + clamp(j, ny)) * nx + clamp(i, nx)];
  const mix = (a: number, b: number, t: number) => a + (b - a) * t;
  eachVoxel(box, (at, x, y, z) => {
    const [u, v, w] = [(x - start[0]) / spacing[0], (y - start[1]) / spacing[1], (z - start[2]) / spacing[2]];
    if (!goesOn && !(within(u, nx) && within(v, ny) && within(w, nz))) return;
    if (isEven) {
      made[at] = read(Math.round(u), Math.round(v), Math.round(w));
      return;
    }
    const [i, j, k] = [Math.floor(u), Math.floor(v), Math.floor(w)];
    const plane = (kk: number) =>
      mix(
        mix(read(i, j, kk), read(i + 1, j, kk), u - i),
        mix(read(i, j + 1, kk), read(i + 1, j + 1, kk), u - i),
        v - j,
      );
    made[at] = mix(plane(k), plane(k + 1), w - k);
  });
  return made;
}

function greatest(lane: ArrayLike<number>): number {
  let most = 0;
  for (let i = 0; i < lane.length; i++) most = Math.max(most, Math.abs(lane[i]));
  return most;
}

/** Values that are finite, and how many were not: those are `instead`. */
export function finite(values: ArrayLike<number>, instead = 0): { values: Float32Array; odd: number } {
  const made = new Float32Array(values.length);
  let odd = 0;
  for (let i = 0; i < made.length; i++)
    if (Number.isFinite(values[i])) made[i] = values[i];
    else {
      made[i] = instead;
      odd++;
    }
  tick(made.length);
  return { values: made, odd };
}

/** Whether values are told from a surface: below 0 inside. Densities never are. */
export function areDistances(values: ArrayLike<number>): boolean {
  for (let i = 0; i < values.length; i++) if (values[i] < 0) return true;
  return false;
}
