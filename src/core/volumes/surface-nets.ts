/**
 * The surface of a volume, as faces of four corners: a point for each cube of voxels that the surface passes, at the mean of where it cuts the
 * cube's edges (S. Gibson, "Constrained elastic surface nets", 1998). Closed wherever the surface does not leave the tiles that stand. What is
 * done for each tile is in kernels/assembly/nets.ts.
 */
import { tick } from "../cancelling";
import { type Column, makeColumn } from "../geometry/column";
import { type Mesh, makeMesh } from "../geometry/mesh";
import {
  beyond,
  INSIDE,
  levelLane,
  levelName,
  OUTSIDE,
  TILE,
  TILE_VOXELS,
  type Volume,
  VolumeReader,
} from "../geometry/volume";
import { addressOf } from "../kernels/arena";
import { type Scratch, withScratch } from "../kernels/kernels";

export interface NetOptions {
  /** Units of distance, or a density. */
  readonly level: number;
}

/** Null where nothing lies on that level. Points have what else the voxels have. */
export const surfaceOf = (volume: Volume, { level }: NetOptions): Mesh | null => netOf(volume, level, false);

/** The voxels inside as cubes, without the walls between them. */
export const blocksOf = (volume: Volume, { level }: NetOptions): Mesh | null => netOf(volume, level, true);

/** Bytes of what a tile has in the kernels. */
const STATES = 8 * 4;
const ROWS = 81 * 4;
const NUMBERS = TILE_VOXELS * 4;
/** Floats of a block of values. */
const BLOCK = 81 * 12;
/** Tiles that a kernel works through before cancelling is looked for. */
const AT_ONCE = 256;

/** Tiles whose cubes may be passed, in the order of the lattice: those that stand, and those just before them. */
interface Reached {
  /** Eight a tile: what stands there and in the seven tiles above. */
  readonly states: Int32Array;
  /** Eight a tile: its number and those of the seven below, −1 where none is reached. */
  readonly lower: Int32Array;
  /** x, y and z of each in voxels. */
  readonly places: Int32Array;
  readonly count: number;
}

function reached({ first, tiles, table }: Volume): Reached {
  // One more on both sides than the box has, so that nobody has to look for its ends.
  const [nx, ny, nz] = tiles.map((t) => t + 2);
  const around = new Int32Array(nx * ny * nz).fill(OUTSIDE);
  for (let k = 0, at = 0; k < tiles[2]; k++)
    for (let j = 0; j < tiles[1]; j++, at += tiles[0])
      around.set(table.subarray(at, at + tiles[0]), ((k + 1) * ny + j + 1) * nx + 1);
  const steps = Int32Array.from({ length: 8 }, (_, p) => (p & 1) + ((p >> 1) & 1) * nx + (p >> 2) * nx * ny);
  const numbers = new Int32Array(around.length).fill(-1);
  for (let at = 0; at < around.length; at++)
    if (around[at] >= 0) for (const step of steps) numbers[at - step] = 0;
  let count = 0;
  for (let at = 0; at < numbers.length; at++) if (numbers[at] === 0) numbers[at] = count++;
  const [states, lower] = [new Int32Array(count * 8), new Int32Array(count * 8)];
  const places = new Int32Array(count * 3);
  for (let k = 0, at = 0; k < nz; k++)
    for (let j = 0; j < ny; j++)
      for (let i = 0; i < nx; i++, at++) {
        const tile = numbers[at];
        if (tile < 0) continue;
        for (let p = 0; p < 8; p++) {
          states[tile * 8 + p] = around[at + steps[p]];
          lower[tile * 8 + p] = numbers[at - steps[p]] ?? -1;
        }
        places[tile * 3] = (first[0] + i - 1) * TILE;
        places[tile * 3 + 1] = (first[1] + j - 1) * TILE;
        places[tile * 3 + 2] = (first[2] + k - 1) * TILE;
      }
  tick(around.length);
  return { states, lower, places, count };
}

/** Sums of every other number of a list before each, and of all. */
function startsOf(counts: Int32Array, offset: number): Int32Array {
  const starts = new Int32Array(counts.length / 2 + 1);
  for (let t = 0; t < starts.length - 1; t++) starts[t + 1] = starts[t] + counts[t * 2 + offset];
  return starts;
}

/** Calls for one piece of a list of tiles after the other. */
function inPieces(count: number, call: (from: number, n: number) => void): void {
  for (let from = 0; from < count; from += AT_ONCE) {
    const n = Math.min(AT_ONCE, count - from);
    tick(n * TILE_VOXELS);
    call(from, n);
  }
}

function netOf(volume: Volume, level: number, blocky: boolean): Mesh | null {
  const name = levelName(volume);
  // Densities are high inside.
  const turn = name === "distance" ? 1 : -1;
  const flat = [OUTSIDE, INSIDE].map((state) => turn * (beyond(volume, name, state) - level));
  const sides = [level, turn, ...flat];
  const tiles = reached(volume);
  return withScratch((scratch) => {
    const { memory, kernels } = scratch.engine;
    const integers = (address: number, length: number) =>
      new Int32Array(memory.memory.buffer, address, length).slice();
    const floats = (address: number, length: number) =>
      new Float32Array(memory.memory.buffer, address, length).slice();
    const lane = addressOf(levelLane(volume)) ?? scratch.place(levelLane(volume));
    const states = scratch.place(tiles.states);
    const rows = scratch.room(tiles.count * ROWS);
    const counted = scratch.room(tiles.count * 8);
    inPieces(tiles.count, (from, n) =>
      kernels.kernel("netSides")(
        n,
        states + from * STATES,
        rows + from * ROWS,
        counted + from * 8,
        lane,
        ...sides,
      ),
    );
    const counts = integers(counted, tiles.count * 2);
    const [pointStarts, faceStarts] = [startsOf(counts, 0), startsOf(counts, 1)];
    const [points, faces] = [pointStarts[tiles.count], faceStarts[tiles.count]];
    if (points === 0) return null;
    const numbers = scratch.room(tiles.count * NUMBERS);
    const lanes = [0, 1, 2].map(() => scratch.room(points * 4));
    const places = scratch.place(tiles.places);
    const starts = scratch.place(pointStarts);
    const block = scratch.room(BLOCK * 4);
    inPieces(tiles.count, (from, n) => {
      const [own, bits, of] = [states + from * STATES, rows + from * ROWS, places + from * 12];
      const lists = [own, bits, of, starts + from * 4, numbers + from * NUMBERS, block, lane, ...lanes];
      kernels.kernel("netPoints")(n, ...lists, ...sides, volume.voxel, Number(blocky));
    });
    const corners = facesOf(scratch, tiles, rows, faceStarts, numbers);
    const cornerPoint = integers(corners.address, faces * 4);
    return meshOf(
      volume,
      lanes.map((address) => floats(address, points)),
      corners.lacking > 0 ? withoutLacking(cornerPoint) : cornerPoint,
    );
  });
}

/** @returns where four corners of each face stand, and how many faces lack one */
function facesOf(
  scratch: Scratch,
  { lower, count }: Reached,
  rows: number,
  faceStarts: Int32Array,
  numbers: number,
): { readonly address: number; readonly lacking: number } {
  const kernel = scratch.engine.kernels.kernel("netFaces");
  const [starts, below] = [scratch.place(faceStarts), scratch.place(lower)];
  const address = scratch.room(faceStarts[count] * 16);
  let lacking = 0;
  inPieces(count, (from, n) => {
    const lists = [rows + from * ROWS, below + from * STATES, starts + from * 4, numbers, address];
    lacking += kernel(n, ...lists) ?? 0;
  });
  return { address, lacking };
}

/** Where the surface leaves the tiles that stand, its last faces have no point to end at. */
function withoutLacking(corners: Int32Array): Int32Array {
  return corners.filter((_, c) => corners[c - (c % 4)] >= 0);
}

/** A mesh of faces of four corners, with what the voxels have. */
function meshOf(volume: Volume, lanes: readonly Float32Array[], cornerPoint: Int32Array): Mesh {
  const position = lanes as unknown as [Float32Array, Float32Array, Float32Array];
  const faceStarts = new Int32Array(cornerPoint.length / 4 + 1);
  for (let f = 0; f < faceStarts.length; f++) faceStarts[f] = f * 4;
  return makeMesh({ position, faceStarts, cornerPoint, pointColumns: carried(volume, position) });
}

/** What voxels have besides where their surface is, read where the points are. */
export function carried(volume: Volume, [xs, ys, zs]: readonly Float32Array[]): Record<string, Column> {
  return Object.fromEntries(
    Object.entries(volume.voxels.columns)
      .filter(([name, { kind }]) => name !== levelName(volume) && kind !== "integer")
      .map(([name, { kind, lanes }]) => [
        name,
        makeColumn(
          kind,
          lanes.map((_, l) => {
            const reader = new VolumeReader(volume, name, l);
            return Float32Array.from(xs, (x, p) => {
              tick();
              return reader.at(x, ys[p], zs[p]);
            });
          }),
        ),
      ]),
  );
}
