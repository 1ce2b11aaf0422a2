/**
 * Reaction and diffusion (P. Gray and S. Scott, "Autocatalytic reactions in the isothermal, continuous stirred tank reactor", 1984) over elements
 * that have neighbours. Patterns by feed and kill: J. Pearson, "Complex patterns in a simple system", 1993.
 */
import { type Domain, makeColumn, makeFloats } from "../geometry/column";
import type { Incidence } from "../geometry/topology";
import { copyInMemory, floatsInMemory, inMemory, passing } from "../kernels/arena";
import { FIRST_ELEMENT, fixedAt, type KernelCall, laneAt } from "../kernels/job";
import { Plan } from "../kernels/plan";
import type { State } from "../simulate/state";

/** Of each element how much food there is, and how much of what feeds on it. */
export interface Reaction extends State {
  readonly domains: { readonly elements: Domain };
}

/** Feed and kill. */
export const PATTERNS = {
  spots: [0.03, 0.062],
  stripes: [0.042, 0.061],
  maze: [0.029, 0.057],
  holes: [0.039, 0.058],
  worms: [0.046, 0.063],
  pulses: [0.018, 0.051],
} as const;
export type Pattern = keyof typeof PATTERNS;

/** Parts of the way to the mean of the neighbours in a step, at size 1: diffusion 0.2 and 0.1 cells² a step, as Pearson has it. */
const SPREAD_FOOD = 0.8;
const SPREAD_EATER = 0.4;

/** @param seeds how much of what feeds there is at first, 0 to 1 */
export function seeded(seeds: ArrayLike<number>): Reaction {
  const [food, eater] = [makeFloats(seeds.length), makeFloats(seeds.length)];
  for (let i = 0; i < seeds.length; i++) {
    const share = Math.min(1, Math.max(0, seeds[i]));
    food[i] = 1 - share / 2;
    eater[i] = share / 2;
  }
  return reactionOf(food, eater);
}

const reactionOf = (food: Float32Array, eater: Float32Array): Reaction => ({
  domains: {
    elements: {
      count: food.length,
      columns: { food: makeColumn("number", [food]), eater: makeColumn("number", [eater]) },
    },
  },
});

/** Food, and what feeds on it. */
export const substancesOf = ({ domains: { elements } }: Reaction): readonly Float32Array[] =>
  [elements.columns.food, elements.columns.eater].map(({ lanes }) => lanes[0] as Float32Array);

export interface ReactionSettings {
  readonly feed: Float32Array;
  readonly kill: Float32Array;
  /** How wide patterns are, against those of Pearson's rates. */
  readonly size: number;
}

/** So many steps later. */
export function reacted(
  before: Reaction,
  neighbours: Incidence,
  { feed, kill, size }: ReactionSettings,
  steps: number,
): Reaction {
  const { count } = before.domains.elements;
  // Wider patterns spread farther in a step than one round can bring it without swinging: then in several rounds.
  const rounds = Math.max(1, Math.ceil(size * size));
  const share = (size * size) / rounds;
  const { lattice, elements, among } = partsOf(neighbours);
  const after = [0, 1].map(() => makeFloats(count));
  passing(() => {
    const [fed, killed] = [feed, kill].map(inMemory);
    const runs = lattice && inMemory(lattice.runs);
    const [listed, starts, items] = [elements, among.starts, among.items].map(inMemory);
    let now = substancesOf(before).map(copyInMemory);
    let next = [0, 1].map(() => floatsInMemory(count));
    const at = (...lanes: readonly ArrayBufferView[]) => lanes.map(({ byteOffset }) => fixedAt(byteOffset));
    for (let step = 0; step < steps; step++)
      for (let round = 0; round < rounds; round++) {
        const numbers = [SPREAD_FOOD * share, SPREAD_EATER * share, round === 0 ? 1 : 0];
        if (lattice && runs)
          run(
            count,
            "reactionOnLattice",
            [FIRST_ELEMENT, ...at(...next, ...now, runs, fed, killed)],
            [lattice.width, ...numbers],
          );
        const own = [listed, starts].map(({ byteOffset }) => laneAt(byteOffset));
        run(elements.length, "reactionAmong", [...own, ...at(...next, ...now, items, fed, killed)], numbers);
        [now, next] = [next, now];
      }
    for (const [k, lane] of now.entries()) after[k].set(lane);
  });
  return reactionOf(after[0], after[1]);
}

function run(
  count: number,
  kernel: string,
  operands: KernelCall["operands"],
  numbers: KernelCall["numbers"],
): void {
  const plan = new Plan();
  plan.calls.push({ kernel, operands, numbers });
  plan.run(count);
}

/** Elements in rows of one length, and of each how many from it on have just the four beside them in rows and columns as neighbours. */
interface Lattice {
  readonly width: number;
  readonly runs: Int32Array;
}

/** Those that lie in a lattice, of which there may be hardly any, and the others with their neighbours. */
interface ElementParts {
  readonly lattice: Lattice | null;
  readonly elements: Int32Array;
  readonly among: Incidence;
}

const partsByStarts = new WeakMap<Int32Array, ElementParts>();

function partsOf(neighbours: Incidence): ElementParts {
  let parts = partsByStarts.get(neighbours.starts);
  if (!parts) {
    parts = partedBy(foundLattice(neighbours), neighbours);
    partsByStarts.set(neighbours.starts, parts);
  }
  return parts;
}

function partedBy(lattice: Lattice | null, { starts, items }: Incidence): ElementParts {
  const all = Int32Array.from({ length: starts.length - 1 }, (_, i) => i);
  if (!lattice) return { lattice, elements: all, among: { starts, items } };
  const elements = all.filter((i) => lattice.runs[i] === 0);
  const own = Array.from(elements, (i) => items.subarray(starts[i], starts[i + 1]));
  const ends = new Int32Array(own.length + 1);
  for (const [k, { length }] of own.entries()) ends[k + 1] = ends[k] + length;
  const among = { starts: ends, items: new Int32Array(ends[own.length]) };
  for (const [k, list] of own.entries()) among.items.set(list, ends[k]);
  return { lattice, elements, among };
}

function foundLattice({ starts, items }: Incidence): Lattice | null {
  const count = starts.length - 1;
  const farthest = (i: number): number => {
    let far = 0;
    for (let k = starts[i]; k < starts[i + 1]; k++) far = Math.max(far, items[k] - i);
    return far;
  };
  // One inside of its row: the first in the middle row may be at the border.
  let middle = Math.floor(count / 2);
  while (middle < count && starts[middle + 1] - starts[middle] !== 4) middle++;
  const width = middle < count ? farthest(middle) : 0;
  if (width < 4) return null;
  const runs = new Int32Array(count);
  let most = 0;
  for (let i = count - 1; i >= 0; i--) {
    if (!isEven(i, width, starts, items)) continue;
    runs[i] = 1 + (runs[i + 1] ?? 0);
    most = Math.max(most, runs[i]);
  }
  return most >= 4 ? { width, runs } : null;
}

function isEven(i: number, width: number, starts: Int32Array, items: Int32Array): boolean {
  if (starts[i + 1] - starts[i] !== 4) return false;
  let seen = 0;
  for (let k = starts[i]; k < starts[i + 1]; k++) {
    const way = [1, -1, width, -width].indexOf(items[k] - i);
    if (way < 0) return false;
    seen |= 1 << way;
  }
  return seen === 15;
}
