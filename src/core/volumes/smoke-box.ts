/** The box of air that smoke is in: it grows with it, and never shrinks. */

import { TILE, volumeBounds } from "../geometry/volume";
import { copyInMemory } from "../kernels/arena";
import type { Vec3 } from "../maths/vector";
import { type AirBox, emptyLane, regrid, sizeOf } from "./air-grid";
import type { Smoke, SmokeSettings } from "./smoke-state";

/** Cells left free around what is there. */
const MARGIN = 5;
/** Density below which there is nothing. */
export const LEAST = 0.004;

export interface Air {
  readonly box: AirBox;
  readonly velocity: readonly Float32Array[];
  readonly density: Float32Array;
  readonly heat: Float32Array;
}

/** The air of before in a box around all that is there and comes; null where nothing is. */
export function grownAir(before: Smoke, settings: SmokeSettings): Air | null {
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
