/**
 * Heights that rain carries off and that slump where they are too steep: material goes from each point to lower neighbours, a share of what is too
 * steep each round (F. Musgrave, C. Kolb and R. Mace, "The synthesis and rendering of eroded fractal terrains", 1989). Points count alike, so what
 * there is stays as much on an even lattice; it is never made nor lost but where it is poured.
 */
import { tick } from "../cancelling";
import { type Domain, makeColumn, makeFloats } from "../geometry/column";
import type { Incidence } from "../geometry/topology";
import { lengthOf } from "../maths/exact";
import type { State } from "../simulate/state";

/** Of each point its height, how much water stands on it, and how much material that carries; in units. */
export interface Ground extends State {
  readonly domains: { readonly points: Domain };
}

export interface ErosionSettings {
  /** Units of water, and of material, that come to each point in a round. */
  readonly rain: ArrayLike<number>;
  readonly pour: ArrayLike<number>;
  /** How much material running water can carry, by its amount and how steep it runs. */
  readonly carry: number;
  /** Parts of what it could carry more that it takes, of what is too much that it leaves, and of the water that dries up, in a round. */
  readonly take: number;
  readonly settle: number;
  readonly dry: number;
  /** Rise over run from which material slumps; and the part of what is too much that goes in a round. */
  readonly steepest: number;
  readonly slump: number;
}

export const groundOf = (height: Float32Array, water: Float32Array, sediment: Float32Array): Ground => ({
  domains: {
    points: {
      count: height.length,
      columns: {
        height: makeColumn("number", [height]),
        water: makeColumn("number", [water]),
        sediment: makeColumn("number", [sediment]),
      },
    },
  },
});

export const layersOf = ({ domains: { points } }: Ground): readonly Float32Array[] =>
  [points.columns.height, points.columns.water, points.columns.sediment].map(
    ({ lanes }) => lanes[0] as Float32Array,
  );

/** Units between each point and its neighbours over the ground, in the order of the neighbours. */
export function runsOf({ starts, items }: Incidence, [x, , z]: readonly ArrayLike<number>[]): Float32Array {
  const runs = new Float32Array(items.length);
  for (let i = 0; i + 1 < starts.length; i++)
    for (let k = starts[i]; k < starts[i + 1]; k++)
      runs[k] = Math.max(1e-6, lengthOf(x[i] - x[items[k]], 0, z[i] - z[items[k]]));
  return runs;
}

/** One round later. @param runs of runsOf */
export function erodedOnce(
  before: Ground,
  beside: Incidence,
  runs: Float32Array,
  settings: ErosionSettings,
): Ground {
  const [height, water, sediment] = layersOf(before).map((lane) => {
    const copy = makeFloats(lane.length);
    copy.set(lane);
    return copy;
  });
  const { rain, pour } = settings;
  for (let i = 0; i < height.length; i++) {
    water[i] += Math.max(0, rain[i]);
    height[i] += Math.max(0, pour[i]);
  }
  tick(height.length * 4);
  runOff([height, water, sediment], beside, runs, settings);
  slumped(height, beside, runs, settings);
  return groundOf(height, water, sediment);
}

/** Water goes to lower neighbours with what it carries, takes more where it runs fast and leaves some where it slows down. */
function runOff(
  [height, water, sediment]: readonly Float32Array[],
  { starts, items }: Incidence,
  runs: Float32Array,
  { carry, take, settle, dry }: ErosionSettings,
): void {
  const [surface, level] = [height.map((h, i) => h + water[i]), Float32Array.from(height)];
  const [wetter, richer] = [new Float32Array(height.length), new Float32Array(height.length)];
  for (let i = 0; i < height.length; i++) {
    let [drops, steepest, lowest] = [0, 0, surface[i]];
    for (let k = starts[i]; k < starts[i + 1]; k++) {
      const drop = surface[i] - surface[items[k]];
      if (drop <= 0) continue;
      drops += drop;
      steepest = Math.max(steepest, drop / runs[k]);
      lowest = Math.min(lowest, surface[items[k]]);
    }
    const most = water[i] > 0 ? Math.min(water[i], (surface[i] - lowest) / 2) : 0;
    const could = carry * most * steepest;
    // It never digs deeper than half-way to what is beside it.
    const dug = Math.min(take * Math.max(0, could - sediment[i]), Math.max(0, level[i] - lowest) / 2);
    const left = settle * Math.max(0, sediment[i] - could);
    height[i] += left - dug;
    sediment[i] += dug - left;
    if (drops === 0 || most === 0) continue;
    const part = most / water[i];
    for (let k = starts[i]; k < starts[i + 1]; k++) {
      const drop = surface[i] - surface[items[k]];
      if (drop <= 0) continue;
      wetter[items[k]] += (most * drop) / drops;
      richer[items[k]] += (sediment[i] * part * drop) / drops;
    }
    wetter[i] -= most;
    richer[i] -= sediment[i] * part;
  }
  for (let i = 0; i < height.length; i++) {
    water[i] = Math.max(0, water[i] + wetter[i]) * (1 - dry);
    sediment[i] += richer[i];
  }
}

/** What is too steep goes down, to all lower neighbours by how much too steep it is. */
function slumped(
  height: Float32Array,
  { starts, items }: Incidence,
  runs: Float32Array,
  { steepest, slump }: ErosionSettings,
): void {
  const change = new Float32Array(height.length);
  for (let i = 0; i < height.length; i++) {
    let [over, most] = [0, 0];
    for (let k = starts[i]; k < starts[i + 1]; k++) {
      const more = height[i] - height[items[k]] - steepest * runs[k];
      if (more <= 0) continue;
      over += more;
      most = Math.max(most, more);
    }
    if (over === 0) continue;
    const goes = (slump * most) / 2;
    change[i] -= goes;
    for (let k = starts[i]; k < starts[i + 1]; k++) {
      const more = height[i] - height[items[k]] - steepest * runs[k];
      if (more > 0) change[items[k]] += (goes * more) / over;
    }
  }
  for (let i = 0; i < height.length; i++) height[i] += change[i];
}
