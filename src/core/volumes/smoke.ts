/** Smoke: what rises, turns and fades in a box of air that grows with it. */

import type { Value, VectorField } from "../fields/expression";
import { runValues } from "../fields/run";
import { type Domain, makeColumn, makeFloats, makeLanes } from "../geometry/column";
import {
  eachVoxel,
  INSIDE,
  levelLane,
  TILE,
  TILE_VOXELS,
  type Volume,
  VolumeReader,
  volumeBounds,
} from "../geometry/volume";
import { copyInMemory } from "../kernels/arena";
import { greatestOf } from "../kernels/statistics";
import { exponential } from "../maths/exact";
import type { Vec3 } from "../maths/vector";
import type { State } from "../simulate/state";
import {
  AIR,
  type AirBox,
  cellCount,
  emptyLane,
  type GridSize,
  OPEN,
  overRows,
  regrid,
  SOLID,
  sizeOf,
} from "./air-grid";
import { carried, moved, traced } from "./carrying";
import { Pressure } from "./pressure";
import { TileBox } from "./tiles";

/** Cells: `velocity` through their lower faces, in cells a second; `density` and `heat`. */
export interface Smoke extends State {
  readonly domains: { readonly cells: Domain };
  readonly numbers: {
    readonly first: Vec3;
    readonly tiles: Vec3;
    readonly voxel: readonly [number];
    /** x, y and z of the middle of each obstacle, units. */
    readonly middles: readonly number[];
  };
}

/** Where smoke comes from. */
export interface SmokeSource {
  /** Distances. */
  readonly volume: Volume;
  /** Density and heat a second, and the speed that it leaves with (units a second), at each cell. */
  readonly fields: readonly [density: Value, heat: Value, ...velocity: VectorField];
}

export interface SmokeSettings {
  readonly voxel: number;
  readonly sources: readonly SmokeSource[];
  readonly obstacles: readonly Volume[];
  /** Units a second² by heat 1 upwards, and by density 1 downwards. */
  readonly rise: number;
  readonly weight: number;
  /** How much eddies are kept turning, from 0 on. */
  readonly swirl: number;
  /** Parts of density, heat and speed that are lost in a second. */
  readonly fade: number;
  readonly cool: number;
  readonly drag: number;
  /** Units a second², at each cell. */
  readonly push: VectorField | null;
  readonly walls: "open" | "floor" | "closed";
  /** Cells along any side of the box at most. */
  readonly most: number;
}

export const NO_SMOKE: Smoke = {
  domains: { cells: { count: 0, columns: {} } },
  numbers: { first: [0, 0, 0], tiles: [0, 0, 0], voxel: [0], middles: [] },
};

/** Cells that a step goes at most; what is faster is stepped more often. */
const FARTHEST = 3;
const MOST_SUBSTEPS = 6;
/** Cells left free around what is there. */
const MARGIN = 5;
/** Density below which there is nothing. */
const LEAST = 0.004;
const CYCLES = 2;

interface Air {
  readonly box: AirBox;
  velocity: Float32Array[];
  density: Float32Array;
  heat: Float32Array;
}

/** What stands in the air, and in cells a second how it moves; null where nothing does. */
interface Solids {
  readonly kinds: Float32Array;
  readonly pushing: readonly Float32Array[] | null;
}

/** @param seconds how long the step is; 0 only begins */
export function steppedSmoke(before: Smoke, settings: SmokeSettings, seconds: number): Smoke {
  if (!(seconds > 0)) return before;
  const air = grownAir(before, settings);
  if (!air) return before;
  const size = sizeOf(air.box);
  const kinds = kindsOf(air.box, settings);
  const stand = settings.obstacles.flatMap(middleOf);
  const pushing = speedsOf(air.box, settings, before.numbers.middles, stand, seconds);
  const pressure = new Pressure(size, kinds);
  const fastest = greatestOf(air.velocity);
  const substeps = Math.min(MOST_SUBSTEPS, Math.max(1, Math.ceil((fastest * seconds) / FARTHEST)));
  for (let s = 0; s < substeps; s++)
    substep(air, size, { kinds, pushing }, pressure, settings, seconds / substeps);
  const cells = {
    count: cellCount(size),
    columns: {
      velocity: makeColumn("vector", air.velocity),
      density: makeColumn("number", [air.density]),
      heat: makeColumn("number", [air.heat]),
    },
  };
  return {
    domains: { cells },
    numbers: { first: air.box.first, tiles: air.box.tiles, voxel: [settings.voxel], middles: stand },
  };
}

function substep(
  air: Air,
  size: GridSize,
  { kinds, pushing }: Solids,
  pressure: Pressure,
  settings: SmokeSettings,
  dt: number,
): void {
  const { voxel, rise, weight, fade, cool, drag } = settings;
  for (const source of settings.sources) pourIn(air, size, kinds, source, voxel, dt);
  const push = pushes(air, size, settings, dt);
  const per = dt / voxel;
  overRows(
    "fluidPush",
    size,
    [...air.velocity, air.density, air.heat, ...(push ?? [null, null, null])],
    [rise * per, weight * per, Math.max(0, 1 - drag * dt)],
  );
  overRows("fluidWalls", size, [...air.velocity, kinds, ...(pushing ?? [null, null, null])]);
  pressure.project(air.velocity, CYCLES);
  const there = traced(air.velocity, size, dt);
  const back = traced(air.velocity, size, -dt);
  air.velocity = air.velocity.map((lane, a) => moved([lane], there, size, a + 1)[0]);
  const keep = [exponential(-fade * dt), exponential(-cool * dt)];
  [air.density, air.heat] = carried([air.density, air.heat], there, back, size, keep);
}

/** The air of before in a box around all that is there and comes; null where nothing is. */
function grownAir(before: Smoke, settings: SmokeSettings): Air | null {
  const { voxel, most } = settings;
  const known = before.domains.cells.count > 0 && before.numbers.voxel[0] === voxel ? before : null;
  const spans = settings.sources.flatMap(({ volume }) => {
    const bounds = volumeBounds(volume);
    return bounds ? [[bounds.min.map((v) => v / voxel), bounds.max.map((v) => v / voxel)] as const] : [];
  });
  const old = known && { first: known.numbers.first, tiles: known.numbers.tiles };
  const filled = known && old && filledSpan(known, old);
  if (filled) spans.push(filled);
  if (spans.length === 0 && !old) return null;
  const first = [0, 1, 2].map((a) => Math.floor((Math.min(...spans.map(([low]) => low[a])) - MARGIN) / TILE));
  const end = [0, 1, 2].map((a) =>
    Math.ceil((Math.max(...spans.map(([, high]) => high[a])) + MARGIN) / TILE),
  );
  const limit = Math.max(1, Math.floor(most / TILE));
  const box = boxWithin(first, end, old, limit);
  const columns = known?.domains.cells.columns;
  const lane = (name: string, l: number): Float32Array => {
    const from = columns?.[name].lanes[l] as Float32Array | undefined;
    if (!from || !old) return emptyLane(sizeOf(box));
    const isSame = [0, 1, 2].every((a) => old.first[a] === box.first[a] && old.tiles[a] === box.tiles[a]);
    // What is stepped is written; what was before stays.
    return isSame ? copyInMemory(from) : regrid(from, old, box);
  };
  return {
    box,
    velocity: [0, 1, 2].map((l) => lane("velocity", l)),
    density: lane("density", 0),
    heat: lane("heat", 0),
  };
}

/** Never smaller than before, and no longer than the limit: then it stays where it is. In tiles; sides are even, so that coarser grids fit. */
function boxWithin(
  first: readonly number[],
  end: readonly number[],
  old: AirBox | null,
  limit: number,
): AirBox {
  const made = [0, 1, 2].map((a): readonly [number, number] => {
    const low = old ? Math.min(first[a], old.first[a]) : first[a];
    const high = old ? Math.max(end[a], old.first[a] + old.tiles[a]) : end[a];
    const tiles = Number.isFinite(high - low) ? high - low : (old?.tiles[a] ?? 1);
    if (tiles <= limit) return [Number.isFinite(low) ? low : (old?.first[a] ?? 0), tiles];
    // Grows as far as it may, at the end where it grew.
    const from = old?.first[a] ?? low;
    const grew = high > (old ? old.first[a] + old.tiles[a] : low);
    return grew ? [from, limit] : [from + (old?.tiles[a] ?? limit) - limit, limit];
  });
  return { first: made.map(([f]) => f) as unknown as Vec3, tiles: made.map(([, t]) => t) as unknown as Vec3 };
}

/** From which to which cell of the lattice there is anything; null for nothing. */
function filledSpan(smoke: Smoke, box: AirBox): readonly [number[], number[]] | null {
  const [nx, ny, nz] = sizeOf(box);
  const density = smoke.domains.cells.columns.density.lanes[0];
  const low = new Array<number>(3).fill(Number.POSITIVE_INFINITY);
  const high = new Array<number>(3).fill(Number.NEGATIVE_INFINITY);
  const widen = (a: number, from: number, to: number) => {
    low[a] = Math.min(low[a], from - 1 + box.first[a] * TILE);
    high[a] = Math.max(high[a], to - 1 + box.first[a] * TILE);
  };
  for (let row = ny; row < ny * (nz - 1); row++) {
    const start = row * nx;
    let [first, last] = [0, -1];
    for (let i = 1; i < nx - 1; i++)
      if (density[start + i] >= LEAST) {
        if (last < 0) first = i;
        last = i;
      }
    if (last < 0) continue;
    widen(0, first, last);
    widen(1, row % ny, row % ny);
    widen(2, Math.floor(row / ny), Math.floor(row / ny));
  }
  return high[0] < low[0] ? null : [low, high];
}

/** Cells of the air that a volume reaches into by more than nothing. */
interface Reach {
  readonly cells: Int32Array;
  /** How much of each lies in it, from 0 to 1; above a half its middle does. */
  readonly shares: Float32Array;
  /** Where the middle of each is, in units. */
  readonly places: readonly Float32Array[];
}

/** What was found last for a volume: most stand still, and the air grows seldom. */
const reaches = new WeakMap<Volume, { readonly box: string; readonly reach: Reach }>();

function reachOf(volume: Volume, air: AirBox, voxel: number): Reach {
  const box = [...air.first, ...air.tiles, voxel].join(" ");
  const known = reaches.get(volume);
  if (known?.box === box) return known.reach;
  const reach = reachFrom(volume, air, voxel);
  reaches.set(volume, { box, reach });
  return reach;
}

function reachFrom(volume: Volume, { first, tiles }: AirBox, voxel: number): Reach {
  const reader = new VolumeReader(volume, "distance");
  const cells: number[] = [];
  const shares: number[] = [];
  const places: number[][] = [[], [], []];
  const size = sizeOf({ first, tiles });
  const bounds = volumeBounds(volume);
  const reach = (a: number, limit: "min" | "max", round: (v: number) => number) =>
    round((bounds?.[limit][a] ?? 0) / voxel) - first[a] * TILE + 1;
  const from = [0, 1, 2].map((a) => Math.max(1, reach(a, "min", Math.floor)));
  const to = [0, 1, 2].map((a) => Math.min(size[a] - 2, bounds ? reach(a, "max", Math.ceil) : 0));
  for (let k = from[2]; k <= to[2]; k++)
    for (let j = from[1]; j <= to[1]; j++)
      for (let i = from[0]; i <= to[0]; i++) {
        const x = (first[0] * TILE + i - 1) * voxel;
        const y = (first[1] * TILE + j - 1) * voxel;
        const z = (first[2] * TILE + k - 1) * voxel;
        const share = Math.min(1, Math.max(0, 0.5 - reader.at(x, y, z) / voxel));
        if (share === 0) continue;
        cells.push((k * size[1] + j) * size[0] + i);
        shares.push(share);
        places[0].push(x);
        places[1].push(y);
        places[2].push(z);
      }
  return {
    cells: Int32Array.from(cells),
    shares: Float32Array.from(shares),
    places: places.map((lane) => Float32Array.from(lane)),
  };
}

/** Adds what a source gives in a while, as much of it as lies in each cell. */
function pourIn(
  air: Air,
  size: GridSize,
  kinds: Float32Array,
  { volume, fields }: SmokeSource,
  voxel: number,
  dt: number,
): void {
  const { cells, shares, places } = reachOf(volume, air.box, voxel);
  if (cells.length === 0) return;
  const domain: Domain = { count: cells.length, columns: { position: makeColumn("vector", places) } };
  const [density, heat, ...speed] = runValues(fields, domain, { onlyFinite: true }).lanes;
  const steps = [1, size[0], size[0] * size[1]];
  for (let n = 0; n < cells.length; n++) {
    const cell = cells[n];
    if (kinds[cell] !== AIR) continue;
    air.density[cell] += density[n] * shares[n] * dt;
    air.heat[cell] += heat[n] * shares[n] * dt;
    const hold = Math.min(1, 0.5 * shares[n]);
    for (let a = 0; a < 3; a++) {
      const wanted = speed[a][n] / voxel;
      if (wanted === 0) continue;
      const lane = air.velocity[a];
      lane[cell] += (wanted - lane[cell]) * hold;
      const face = cell + steps[a];
      lane[face] += (wanted - lane[face]) * hold;
    }
  }
}

/** What pushes each cell in a while, in cells a second: what keeps eddies turning, and a field. Null for nothing. */
function pushes(
  air: Air,
  size: GridSize,
  { swirl, push, voxel }: SmokeSettings,
  dt: number,
): Float32Array[] | null {
  const field = push && fieldPushes(air, size, push, voxel, dt);
  if (!(swirl > 0)) return field;
  const curl = [0, 1, 2, 3].map(() => emptyLane(size));
  overRows("fluidCurl", size, [...curl, ...air.velocity]);
  overRows("fluidConfine", size, curl, [swirl * dt]);
  const [x, y, z] = curl;
  if (field)
    for (const [a, lane] of [x, y, z].entries()) for (let i = 0; i < lane.length; i++) lane[i] += field[a][i];
  return [x, y, z];
}

/** What a field pushes all cells by. It may read density and heat. */
function fieldPushes(air: Air, size: GridSize, push: VectorField, voxel: number, dt: number): Float32Array[] {
  const [nx, ny] = size;
  const { first } = air.box;
  const places = [0, 1, 2].map(() => emptyLane(size));
  for (let at = 0; at < cellCount(size); at++) {
    places[0][at] = (first[0] * TILE + (at % nx) - 1) * voxel;
    places[1][at] = (first[1] * TILE + (Math.floor(at / nx) % ny) - 1) * voxel;
    places[2][at] = (first[2] * TILE + Math.floor(at / (nx * ny)) - 1) * voxel;
  }
  const domain: Domain = {
    count: cellCount(size),
    columns: {
      position: makeColumn("vector", places),
      density: makeColumn("number", [air.density]),
      heat: makeColumn("number", [air.heat]),
    },
  };
  return runValues(push, domain, { onlyFinite: true }).lanes.map((lane) => {
    const out = emptyLane(size);
    for (let i = 0; i < out.length; i++) out[i] = (lane[i] * dt) / voxel;
    return out;
  });
}

const middles = new WeakMap<Volume, readonly number[]>();

/** The middle of what is inside of a volume of distances, units; 0 0 0 for nothing. Found once for each. */
function middleOf(volume: Volume): readonly number[] {
  const known = middles.get(volume);
  if (known) return known;
  const distance = levelLane(volume);
  const { voxel, first, tiles, table } = volume;
  const [sums, span] = [[0, 0, 0], TILE * voxel];
  let all = 0;
  const add = (place: readonly number[], share: number) => {
    all += share;
    for (let a = 0; a < 3; a++) sums[a] += place[a] * share;
  };
  eachVoxel(volume, (at, x, y, z) => {
    const share = Math.min(1, Math.max(0, 0.5 - distance[at] / voxel));
    if (share > 0) add([x, y, z], share);
  });
  for (let at = 0; at < table.length; at++)
    if (table[at] === INSIDE) {
      const tile = [
        at % tiles[0],
        Math.floor(at / tiles[0]) % tiles[1],
        Math.floor(at / (tiles[0] * tiles[1])),
      ];
      // From the middle of its first voxel to that of its last one.
      const middle = tile.map((t, a) => (first[a] + t) * span + (span - voxel) / 2);
      add(middle, TILE_VOXELS);
    }
  const made = sums.map((v) => (all > 0 ? v / all : 0));
  middles.set(volume, made);
  return made;
}

/** How fast each obstacle goes as a whole since the step before, at its cells: turning is not told. */
function speedsOf(
  box: AirBox,
  { obstacles, voxel }: SmokeSettings,
  before: readonly number[],
  now: readonly number[],
  seconds: number,
): Float32Array[] | null {
  if (before.length !== now.length || now.every((v, i) => v === before[i])) return null;
  const speeds = [0, 1, 2].map(() => emptyLane(sizeOf(box)));
  for (const [o, volume] of obstacles.entries()) {
    const { cells, shares } = reachOf(volume, box, voxel);
    for (let a = 0; a < 3; a++) {
      const speed = (now[o * 3 + a] - before[o * 3 + a]) / (seconds * voxel);
      for (let n = 0; n < cells.length; n++) if (shares[n] > 0.5) speeds[a][cells[n]] = speed;
    }
  }
  return speeds;
}

/** What each cell is: walls are the cells around the box, obstacles those whose middle is in one. */
function kindsOf(box: AirBox, { voxel, obstacles, walls }: SmokeSettings): Float32Array {
  const size = sizeOf(box);
  const [nx, ny, nz] = size;
  const kinds = emptyLane(size).fill(AIR);
  const side = walls === "closed" ? SOLID : OPEN;
  for (let k = 0, row = 0; k < nz; k++)
    for (let j = 0; j < ny; j++, row += nx) {
      // The floor is where y is 0, wherever the box begins.
      if (walls === "floor" && (box.first[1] * TILE + j - 1) * voxel < 0) kinds.fill(SOLID, row, row + nx);
      else if (j === 0 || k === 0 || j === ny - 1 || k === nz - 1) kinds.fill(side, row, row + nx);
      else kinds[row] = kinds[row + nx - 1] = side;
    }
  for (const volume of obstacles) {
    const { cells, shares } = reachOf(volume, box, voxel);
    for (let n = 0; n < cells.length; n++) if (shares[n] > 0.5) kinds[cells[n]] = SOLID;
  }
  return kinds;
}

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
