/**
 * The surface of a volume, as faces of four corners: a point for each cube of voxels that the surface passes, at the mean of where it cuts the
 * cube's edges (S. Gibson, "Constrained elastic surface nets", 1998). Closed wherever the surface does not leave the tiles that stand.
 */
import { tick } from "../cancelling";
import { type Column, makeColumn } from "../geometry/column";
import { type Mesh, makeMesh } from "../geometry/mesh";
import {
  beyond,
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
    this.lane = volume.voxels.columns[this.name].lanes[0] as Float32Array;
  }

  /** @returns whether the surface passes it */
  fill(x: number, y: number, z: number): boolean {
    const { values, volume, lane, level, name } = this;
    // Densities are high inside.
    const turn = name === "distance" ? 1 : -1;
    let [below, above] = [false, false];
    for (let part = 0; part < 8; part++) {
      const [px, py, pz] = [part & 1, (part >> 1) & 1, part >> 2];
      const state = tileState(volume, x + px, y + py, z + pz);
      const flat = state < 0 ? turn * (beyond(volume, name, state) - level) : 0;
      const base = state * TILE_VOXELS;
      for (let k = pz * TILE; k < (pz ? BLOCK : TILE); k++)
        for (let j = py * TILE; j < (py ? BLOCK : TILE); j++)
          for (let i = px * TILE; i < (px ? BLOCK : TILE); i++) {
            const value =
              state < 0 ? flat : turn * (lane[base + ((k & 7) << 6) + ((j & 7) << 3) + (i & 7)] - level);
            values[(k * BLOCK + j) * BLOCK + i] = value;
            if (value < 0) below = true;
            else above = true;
          }
    }
    return below && above;
  }
}

/** Tiles whose cubes may be passed: those that stand, and those just before them. */
function reached({ first, tiles, table }: Volume): Int32Array[] {
  const found: Int32Array[] = [];
  const stands = (i: number, j: number, k: number) =>
    i >= 0 &&
    j >= 0 &&
    k >= 0 &&
    i < tiles[0] &&
    j < tiles[1] &&
    k < tiles[2] &&
    table[(k * tiles[1] + j) * tiles[0] + i] >= 0;
  for (let k = -1; k < tiles[2]; k++)
    for (let j = -1; j < tiles[1]; j++)
      for (let i = -1; i < tiles[0]; i++) {
        let any = false;
        for (let part = 0; part < 8 && !any; part++)
          any = stands(i + (part & 1), j + ((part >> 1) & 1), k + (part >> 2));
        if (any) found.push(Int32Array.of(first[0] + i, first[1] + j, first[2] + k));
      }
  return found;
}

export interface NetOptions {
  /** Units of distance, or a density. */
  readonly level: number;
}

/** Null where nothing lies on that level. Points have what else the voxels have. */
export function surfaceOf(volume: Volume, { level }: NetOptions): Mesh | null {
  const blocks = new Blocks(volume, level);
  const tiles = reached(volume);
  const numberOf = new Map<string, number>();
  const pointOf: Int32Array[] = [];
  const [xs, ys, zs]: number[][] = [[], [], []];
  const { values } = blocks;
  const { voxel } = volume;
  const crossed: { readonly tile: Int32Array; readonly inside: Uint8Array }[] = [];
  for (const tile of tiles) {
    tick(TILE_VOXELS / 4);
    const [x, y, z] = tile;
    if (!blocks.fill(x, y, z)) continue;
    const points = new Int32Array(TILE_VOXELS).fill(-1);
    numberOf.set(`${x} ${y} ${z}`, pointOf.length);
    pointOf.push(points);
    crossed.push({ tile, inside: Uint8Array.from(values, (value) => (value < 0 ? 1 : 0)) });
    for (let cell = 0; cell < TILE_VOXELS; cell++) {
      const [i, j, k] = [cell & 7, (cell >> 3) & 7, cell >> 6];
      const at = (k * BLOCK + j) * BLOCK + i;
      let sides = 0;
      for (let c = 0; c < 8; c++) if (values[at + CORNERS[c]] < 0) sides |= 1 << c;
      if (sides === 0 || sides === 255) continue;
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
      points[cell] = xs.length;
      xs.push((x * TILE + i + sx / cuts) * voxel);
      ys.push((y * TILE + j + sy / cuts) * voxel);
      zs.push((z * TILE + k + sz / cuts) * voxel);
    }
  }
  if (xs.length === 0) return null;
  const corners: number[] = [];
  const strides = [1, BLOCK, BLOCK * BLOCK];
  for (const { tile, inside } of crossed) {
    tick(TILE_VOXELS);
    const cellPoint = (i: number, j: number, k: number): number => {
      const number = numberOf.get(`${tile[0] + (i >> 3)} ${tile[1] + (j >> 3)} ${tile[2] + (k >> 3)}`);
      return number === undefined ? -1 : pointOf[number][((k & 7) << 6) + ((j & 7) << 3) + (i & 7)];
    };
    // Each edge from a voxel of the tile that is cut is gone around by the four cubes at it.
    for (let cell = 0; cell < TILE_VOXELS; cell++) {
      const place = [cell & 7, (cell >> 3) & 7, cell >> 6];
      const at = (place[2] * BLOCK + place[1]) * BLOCK + place[0];
      for (let a = 0; a < 3; a++) {
        const here = inside[at];
        if (here === inside[at + strides[a]]) continue;
        const [b, c] = [(a + 1) % 3, (a + 2) % 3];
        const around = [0, 1, 2, 3].map((n) => {
          const cube = [...place];
          // 00, 10, 11, 01 of the cubes before: counter-clockwise seen from further along the axis.
          if (n === 0 || n === 3) cube[b]--;
          if (n < 2) cube[c]--;
          return cellPoint(cube[0], cube[1], cube[2]);
        });
        if (around.includes(-1)) continue;
        corners.push(...(here ? around : around.reverse()));
      }
    }
  }
  const faces = corners.length / 4;
  const position = [xs, ys, zs].map((lane) => Float32Array.from(lane)) as unknown as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  return makeMesh({
    position,
    faceStarts: Int32Array.from({ length: faces + 1 }, (_, f) => f * 4),
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
  const { values } = blocks;
  const { voxel } = volume;
  const pointAt = new Map<string, number>();
  const [xs, ys, zs]: number[][] = [[], [], []];
  const point = (i: number, j: number, k: number): number => {
    const key = `${i} ${j} ${k}`;
    let number = pointAt.get(key);
    if (number === undefined) {
      pointAt.set(key, (number = xs.length));
      xs.push((i - 0.5) * voxel);
      ys.push((j - 0.5) * voxel);
      zs.push((k - 0.5) * voxel);
    }
    return number;
  };
  const corners: number[] = [];
  for (const [x, y, z] of reached(volume)) {
    tick(TILE_VOXELS / 4);
    if (!blocks.fill(x, y, z)) continue;
    for (let cell = 0; cell < TILE_VOXELS; cell++) {
      const place = [cell & 7, (cell >> 3) & 7, cell >> 6];
      const at = (place[2] * BLOCK + place[1]) * BLOCK + place[0];
      for (let a = 0; a < 3; a++) {
        const here = values[at] < 0;
        if (here === values[at + [1, BLOCK, BLOCK * BLOCK][a]] < 0) continue;
        const [b, c] = [(a + 1) % 3, (a + 2) % 3];
        const around = [0, 1, 2, 3].map((n) => {
          const corner = [x * TILE + place[0], y * TILE + place[1], z * TILE + place[2]];
          corner[a]++;
          if (n === 1 || n === 2) corner[b]++;
          if (n > 1) corner[c]++;
          return point(corner[0], corner[1], corner[2]);
        });
        corners.push(...(here ? around : around.reverse()));
      }
    }
  }
  if (corners.length === 0) return null;
  const position = [xs, ys, zs].map((lane) => Float32Array.from(lane)) as unknown as [
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
