/**
 * The surface of a volume, as faces of four corners: a point for each cube of voxels that the surface passes, at the mean of where it cuts the
 * cube's edges (S. Gibson, "Constrained elastic surface nets", 1998). Closed wherever the surface does not leave the tiles that stand.
 */
import { tick } from "../cancelling";
import { type Column, makeColumn } from "../geometry/column";
import { type Mesh, makeMesh } from "../geometry/mesh";
import {
  beyond,
  levelLane,
  levelName,
  TILE,
  TILE_VOXELS,
  tileState,
  type Volume,
  VolumeReader,
} from "../geometry/volume";

/** Voxels along the block that a tile's cubes reach over: one more than the tile has. */
const BLOCK = TILE + 1;
/** Corners of a cube within a block, x fastest. */
const CORNERS = Int32Array.from(
  { length: 8 },
  (_, c) => (c & 1) + ((c >> 1) & 1) * BLOCK + (c >> 2) * BLOCK * BLOCK,
);
/** Edges of a cube: two corners each. */
const EDGES = [
  [0, 1],
  [2, 3],
  [4, 5],
  [6, 7],
  [0, 2],
  [1, 3],
  [4, 6],
  [5, 7],
  [0, 4],
  [1, 5],
  [2, 6],
  [3, 7],
] as const;

/** Values of a block less the level, below 0 inside, and whether both sides are in it. */
class Blocks {
  readonly values = new Float32Array(BLOCK * BLOCK * BLOCK);
  private readonly lane: Float32Array;
  private readonly name: "distance" | "density";

  constructor(
    private readonly volume: Volume,
    private readonly level: number,
  ) {
    this.name = levelName(volume);
    this.lane = levelLane(volume);
  }

  /** @returns whether the surface passes it */
  fill(x: number, y: number, z: number): boolean {
    let [below, above] = [false, false];
    for (let part = 0; part < 8; part++) this.fillPart(part, x, y, z);
    for (const value of this.values) {
      if (value < 0) below = true;
      else above = true;
    }
    return below && above;
  }

  /** Of each voxel of the block: 1 inside. */
  inside(): Uint8Array {
    return Uint8Array.from(this.values, (value) => (value < 0 ? 1 : 0));
  }

  /** What of the block lies in one of the eight tiles that it reaches into. */
  private fillPart(part: number, x: number, y: number, z: number): void {
    const { values, volume, lane, level, name } = this;
    // Densities are high inside.
    const turn = name === "distance" ? 1 : -1;
    const [px, py, pz] = [part & 1, (part >> 1) & 1, part >> 2];
    const state = tileState(volume, x + px, y + py, z + pz);
    const flat = state < 0 ? turn * (beyond(volume, name, state) - level) : 0;
    const base = state * TILE_VOXELS;
    for (let k = pz * TILE; k < (pz ? BLOCK : TILE); k++)
      for (let j = py * TILE; j < (py ? BLOCK : TILE); j++) {
        const from = base + ((k & 7) << 6) + ((j & 7) << 3);
        const row = (k * BLOCK + j) * BLOCK;
        for (let i = px * TILE; i < (px ? BLOCK : TILE); i++)
          values[row + i] = state < 0 ? flat : turn * (lane[from + (i & 7)] - level);
      }
  }
}

/** Tiles whose cubes may be passed: those that stand, and those just before them. */
function reached(volume: Volume): Int32Array[] {
  const { first, tiles } = volume;
  const found: Int32Array[] = [];
  for (let z = first[2] - 1; z < first[2] + tiles[2]; z++)
    for (let y = first[1] - 1; y < first[1] + tiles[1]; y++)
      for (let x = first[0] - 1; x < first[0] + tiles[0]; x++) {
        let any = false;
        for (let part = 0; part < 8 && !any; part++)
          any = tileState(volume, x + (part & 1), y + ((part >> 1) & 1), z + (part >> 2)) >= 0;
        if (any) found.push(Int32Array.of(x, y, z));
      }
  return found;
}

export interface NetOptions {
  /** Units of distance, or a density. */
  readonly level: number;
}

/** A tile that the surface passes. */
interface Crossed {
  readonly tile: Int32Array;
  /** Of its block: 1 inside. */
  readonly inside: Uint8Array;
  /** By cube the number of its point, −1 for none. */
  readonly points: Int32Array;
}

/** The corners of a cube that lie inside, a bit each. */
function sidesOf(values: Float32Array, at: number): number {
  let sides = 0;
  for (let c = 0; c < 8; c++) if (values[at + CORNERS[c]] < 0) sides |= 1 << c;
  return sides;
}

/** Where in a cube its point is: the mean of the places where the surface cuts its edges. */
function pointIn(values: Float32Array, at: number, sides: number, into: number[]): void {
  let [sx, sy, sz, cuts] = [0, 0, 0, 0];
  for (const [a, b] of EDGES) {
    if (((sides >> a) & 1) === ((sides >> b) & 1)) continue;
    const [va, vb] = [values[at + CORNERS[a]], values[at + CORNERS[b]]];
    const t = va / (va - vb);
    sx += (a & 1) + t * ((b & 1) - (a & 1));
    sy += ((a >> 1) & 1) + t * (((b >> 1) & 1) - ((a >> 1) & 1));
    sz += (a >> 2) + t * ((b >> 2) - (a >> 2));
    cuts++;
  }
  into[0] = sx / cuts;
  into[1] = sy / cuts;
  into[2] = sz / cuts;
}

/** Null where nothing lies on that level. Points have what else the voxels have. */
export function surfaceOf(volume: Volume, { level }: NetOptions): Mesh | null {
  const blocks = new Blocks(volume, level);
  const lanes: number[][] = [[], [], []];
  const crossed: Crossed[] = [];
  for (const tile of reached(volume)) {
    tick(TILE_VOXELS / 4);
    if (!blocks.fill(tile[0], tile[1], tile[2])) continue;
    const points = pointsOf(blocks.values, tile, volume.voxel, lanes);
    crossed.push({ tile, points, inside: blocks.inside() });
  }
  return lanes[0].length > 0 ? meshOf(volume, lanes, facesOf(crossed)) : null;
}

/** Adds the points of a tile's cubes. @returns by cube its number */
function pointsOf(values: Float32Array, tile: Int32Array, voxel: number, lanes: number[][]): Int32Array {
  const points = new Int32Array(TILE_VOXELS).fill(-1);
  const within = [0, 0, 0];
  for (let cell = 0; cell < TILE_VOXELS; cell++) {
    const place = [cell & 7, (cell >> 3) & 7, cell >> 6];
    const at = (place[2] * BLOCK + place[1]) * BLOCK + place[0];
    const sides = sidesOf(values, at);
    if (sides === 0 || sides === 255) continue;
    pointIn(values, at, sides, within);
    points[cell] = lanes[0].length;
    for (let a = 0; a < 3; a++) lanes[a].push((tile[a] * TILE + place[a] + within[a]) * voxel);
  }
  return points;
}

const STRIDES = [1, BLOCK, BLOCK * BLOCK];

/** Calls for each edge from a voxel of a tile to the next that the surface cuts. @param inside of its block */
function eachCut(
  inside: Uint8Array,
  call: (place: readonly number[], axis: number, isInside: boolean) => void,
): void {
  tick(TILE_VOXELS);
  for (let cell = 0; cell < TILE_VOXELS; cell++) {
    const place = [cell & 7, (cell >> 3) & 7, cell >> 6];
    const at = (place[2] * BLOCK + place[1]) * BLOCK + place[0];
    for (let a = 0; a < 3; a++) if (inside[at] !== inside[at + STRIDES[a]]) call(place, a, inside[at] === 1);
  }
}

/** The four corners of a square across an axis, counter-clockwise seen from further along it. */
function squareFrom(first: readonly number[], axis: number): number[][] {
  const [b, c] = [(axis + 1) % 3, (axis + 2) % 3];
  return [0, 1, 2, 3].map((n) => {
    const corner = [...first];
    if (n === 1 || n === 2) corner[b]++;
    if (n > 1) corner[c]++;
    return corner;
  });
}

/** Four corners a face: each edge that is cut is gone around by the four cubes at it. */
function facesOf(crossed: readonly Crossed[]): number[] {
  const byTile = new Map(crossed.map(({ tile, points }) => [tile.join(" "), points]));
  const corners: number[] = [];
  for (const { tile, inside } of crossed) {
    const pointOf = ([i, j, k]: readonly number[]): number =>
      byTile.get(`${tile[0] + (i >> 3)} ${tile[1] + (j >> 3)} ${tile[2] + (k >> 3)}`)?.[
        ((k & 7) << 6) + ((j & 7) << 3) + (i & 7)
      ] ?? -1;
    eachCut(inside, (place, axis, isInside) => {
      const first = place.map((p, a) => (a === axis ? p : p - 1));
      const around = squareFrom(first, axis).map(pointOf);
      if (!around.includes(-1)) corners.push(...(isInside ? around : around.reverse()));
    });
  }
  return corners;
}

/** A mesh of faces of four corners, with what the voxels have. */
function meshOf(volume: Volume, lanes: readonly number[][], corners: readonly number[]): Mesh {
  const position = lanes.map((lane) => Float32Array.from(lane)) as unknown as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  return makeMesh({
    position,
    faceStarts: Int32Array.from({ length: corners.length / 4 + 1 }, (_, f) => f * 4),
    cornerPoint: Int32Array.from(corners),
    pointColumns: carried(volume, position),
  });
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

/** The voxels inside as cubes, without the walls between them. */
export function blocksOf(volume: Volume, { level }: NetOptions): Mesh | null {
  const blocks = new Blocks(volume, level);
  const numbers = new Map<string, number>();
  const lanes: number[][] = [[], [], []];
  const point = (corner: readonly number[]): number => {
    const key = corner.join(" ");
    let number = numbers.get(key);
    if (number === undefined) {
      numbers.set(key, (number = lanes[0].length));
      for (let a = 0; a < 3; a++) lanes[a].push((corner[a] - 0.5) * volume.voxel);
    }
    return number;
  };
  const corners: number[] = [];
  for (const tile of reached(volume)) {
    if (!blocks.fill(tile[0], tile[1], tile[2])) continue;
    eachCut(blocks.inside(), (place, axis, isInside) => {
      const first = place.map((p, a) => tile[a] * TILE + p + (a === axis ? 1 : 0));
      const around = squareFrom(first, axis).map(point);
      corners.push(...(isInside ? around : around.reverse()));
    });
  }
  return corners.length > 0 ? meshOf(volume, lanes, corners) : null;
}
