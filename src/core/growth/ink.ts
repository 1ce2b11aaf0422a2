/**
 * Ink that spreads from element to neighbour: what stands above what a place can hold flows to where less stands, and downhill. Flow by the
 * difference of amounts is diffusion (A. Fick, 1855); that only what is above a hold flows gives it an edge. Amounts are heights of ink in units;
 * height times the area of its element is never made nor lost but where it is poured.
 */
import { tick } from "../cancelling";
import { type Domain, makeColumn, makeFloats } from "../geometry/column";
import { placesOf } from "../geometry/domains";
import { pointAreas } from "../geometry/measure";
import type { Shape } from "../geometry/shape";
import { exponential, lengthOf } from "../maths/exact";
import type { State } from "../simulate/state";
import { neighboursOf } from "./element-neighbours";

/** Of each element how much ink stands on it, and how much has dried into it. */
export interface Ink extends State {
  readonly domains: { readonly elements: Domain };
}

export const inkOf = (wet: Float32Array, stain: Float32Array): Ink => ({
  domains: {
    elements: {
      count: wet.length,
      columns: { wet: makeColumn("number", [wet]), stain: makeColumn("number", [stain]) },
    },
  },
});

export const layersOfInk = ({ domains: { elements } }: Ink): readonly Float32Array[] =>
  [elements.columns.wet, elements.columns.stain].map(({ lanes }) => lanes[0] as Float32Array);

/** The ways between neighbours, each once. */
export interface Ways {
  readonly from: Int32Array;
  readonly to: Int32Array;
  /** Area that a way serves over the square of its length: flow for a difference of 1. */
  readonly width: Float64Array;
  /** Units that it falls from its beginning to its end. */
  readonly fall: Float64Array;
  /** Square units of each element; 1 where elements are no points of a mesh. */
  readonly areas: Float64Array;
}

/** Ways are at least this long, in units: elements in one place would be served without end. */
const SHORTEST = 1e-5;

/** Null where nothing arrives. */
export function waysOf(shape: Shape): Ways | null {
  const beside = neighboursOf(shape);
  const places = placesOf(shape);
  if (!beside || !places) return null;
  const { starts, items } = beside;
  const [x, y, z] = places.columns.position.lanes;
  const { count } = places;
  const areas = shape.mesh && !shape.sites ? pointAreas(shape.mesh) : new Float64Array(count).fill(1);
  // The Laplacian is the sum over neighbours, times two for each dimension, over how many there are.
  const twice = shape.curves && !shape.mesh && !shape.sites ? 2 : 4;
  const howMany = (i: number) => starts[i + 1] - starts[i];
  const ways = items.length / 2;
  const made: Ways = {
    from: new Int32Array(ways),
    to: new Int32Array(ways),
    width: new Float64Array(ways),
    fall: new Float64Array(ways),
    areas,
  };
  let way = 0;
  for (let i = 0; i < count; i++)
    for (let k = starts[i]; k < starts[i + 1]; k++) {
      tick();
      const j = items[k];
      if (j <= i) continue;
      const length = Math.max(SHORTEST, lengthOf(x[i] - x[j], y[i] - y[j], z[i] - z[j]));
      made.from[way] = i;
      made.to[way] = j;
      made.width[way] = (twice * (areas[i] + areas[j])) / (howMany(i) + howMany(j)) / length ** 2;
      made.fall[way] = y[i] - y[j];
      way++;
    }
  return made;
}

export interface InkSettings {
  /** Units of height that come to each element in a second. */
  readonly pour: ArrayLike<number>;
  /** How readily each element takes ink up and lets it through, 0 to 1. */
  readonly draw: ArrayLike<number>;
  /** Square units a second, as of any diffusion. */
  readonly spread: number;
  /** Units of height that stay where they are. */
  readonly hold: number;
  /** Units a second that ink runs where it is steepest. */
  readonly run: number;
  /** Part that dries, by second. */
  readonly dry: number;
}

/** No element gives away more of its ink in a round than this, or it would swing. */
const MOST = 0.5;
/** However fine the mesh, there are no more rounds in a frame; beyond them ink spreads more slowly. */
const MOST_ROUNDS = 200;

/** So many seconds later. */
export function inkLater(before: Ink, ways: Ways, settings: InkSettings, seconds: number): Ink {
  const [wet, stain] = layersOfInk(before).map((lane) => {
    const copy = makeFloats(lane.length);
    copy.set(lane);
    return copy;
  });
  const { pour, draw, dry } = settings;
  const eagerness = eagernessOf(ways, settings, wet.length) * seconds;
  const rounds = Math.min(MOST_ROUNDS, Math.max(1, Math.ceil(eagerness / MOST)));
  const slower = Math.min(1, (MOST * rounds) / Math.max(MOST, eagerness));
  const share = seconds / rounds;
  const dried = 1 - exponential(-Math.max(0, dry) * share);
  const flow = new Float64Array(wet.length);
  for (let round = 0; round < rounds; round++) {
    for (let i = 0; i < wet.length; i++) wet[i] += Math.max(0, pour[i]) * share;
    flowed(wet, flow, ways, draw, settings, share * slower);
    for (let i = 0; i < wet.length; i++) {
      const gone = wet[i] * dried;
      wet[i] -= gone;
      stain[i] += gone;
    }
    tick(ways.from.length + wet.length);
  }
  return inkOf(wet, stain);
}

/** The greatest part of its ink that any element could give away in a second. */
function eagernessOf(
  { from, to, width, fall, areas }: Ways,
  { spread, run }: InkSettings,
  count: number,
): number {
  const out = new Float64Array(count);
  for (let w = 0; w < from.length; w++) {
    out[from[w]] += width[w] * (spread + run * Math.max(0, fall[w]));
    out[to[w]] += width[w] * (spread + run * Math.max(0, -fall[w]));
  }
  let most = 0;
  for (let i = 0; i < count; i++) most = Math.max(most, out[i] / Math.max(areas[i], SHORTEST ** 2));
  return most;
}

function flowed(
  wet: Float32Array,
  flow: Float64Array,
  { from, to, width, fall, areas }: Ways,
  draw: ArrayLike<number>,
  { spread, run, hold }: InkSettings,
  seconds: number,
): void {
  flow.fill(0);
  for (let w = 0; w < from.length; w++) {
    const [i, j] = [from[w], to[w]];
    const [above, beside] = [Math.max(0, wet[i] - hold), Math.max(0, wet[j] - hold)];
    if (above === 0 && beside === 0) continue;
    const through = (Math.min(1, Math.max(0, draw[i])) + Math.min(1, Math.max(0, draw[j]))) / 2;
    const downhill = run * fall[w] * (fall[w] > 0 ? above : beside);
    const goes = (spread * (above - beside) + downhill) * width[w] * through * seconds;
    flow[i] -= goes;
    flow[j] += goes;
  }
  for (let i = 0; i < wet.length; i++)
    if (flow[i] !== 0) wet[i] = Math.max(0, wet[i] + flow[i] / Math.max(areas[i], SHORTEST ** 2));
}
