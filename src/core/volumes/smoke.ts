/** Smoke: what rises, turns and fades in a box of air that grows with it. */

import type { VectorField } from "../fields/expression";
import { runValues } from "../fields/run";
import { type Domain, makeColumn } from "../geometry/column";
import { TILE } from "../geometry/volume";
import { passing } from "../kernels/arena";
import { greatestOf } from "../kernels/statistics";
import { exponential } from "../maths/exact";
import { AIR, cellCount, type GridSize, newLane, overRows, sizeOf } from "./air-grid";
import { carried, moved, traced } from "./carrying";
import { Pressure } from "./pressure";
import { type Air, grownAir } from "./smoke-box";
import { kindsOf, middleOf, speedsOf } from "./smoke-obstacles";
import { reachOf } from "./smoke-reach";
import type { Smoke, SmokeSettings, SmokeSource } from "./smoke-state";

/** Cells that a step goes at most; what is faster is stepped more often. */
const FARTHEST = 3;
const MOST_SUBSTEPS = 6;
const CYCLES = 2;

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
    passing(() => substep(air, size, { kinds, pushing }, pressure, settings, seconds / substeps));
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

/** What it works with on the way takes several times the room of the air, so it goes back before the next; the air stays where it is. */
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
  const keep = [exponential(-fade * dt), exponential(-cool * dt)];
  const next = [
    ...air.velocity.map((lane, a) => moved([lane], there, size, a + 1)[0]),
    ...carried([air.density, air.heat], there, back, size, keep),
  ];
  for (const [l, lane] of [...air.velocity, air.density, air.heat].entries()) lane.set(next[l]);
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
  const curl = [0, 1, 2, 3].map(() => newLane(size));
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
  const places = [0, 1, 2].map(() => newLane(size));
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
    const out = newLane(size);
    for (let i = 0; i < out.length; i++) out[i] = (lane[i] * dt) / voxel;
    return out;
  });
}
