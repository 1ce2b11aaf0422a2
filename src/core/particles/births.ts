/** How particles are born: the births that are due, each at a place that chance or turn chooses. */
import { tick } from "../cancelling";
import { type NumberField, plainNumber } from "../fields/expression";
import { runValues } from "../fields/run";
import type { Domain } from "../geometry/column";
import type { Shape } from "../geometry/shape";
import { hash3 } from "../maths/random";
import { type Birthplaces, birthplacesOf, chanceOf, Spots } from "./birthplaces";
import { birthsDue, birthsInLoop, inLoop, risen, SLACK, type Window } from "./births-due";
import type { Emitting } from "./emitting";
import { newborn } from "./newborn";

/** What is remembered of an emitter from step to step. */
export interface Due {
  /** Births that have been due at its rate, fractions included. */
  readonly due: number;
  /** All births so far: numbers of their chances. */
  readonly born: number;
  /** The weights of the source's elements, for births where they rise. */
  readonly weights?: Float32Array;
}

export interface Born extends Due {
  /** Columns position, velocity, id, age (how long ago in this window), life, and what is carried; null for none. */
  readonly domain: Domain | null;
}

/**
 * @param before the source as it was at the beginning of the window
 * @param room births at most
 * @param firstId of the ones that follow each other
 * @param dead what has died in the window, for emitters of that
 */
export function bornIn(
  emitting: Emitting,
  window: Window,
  { due, born, weights: weighed }: Due,
  before: Shape | undefined,
  room: number,
  firstId: number,
  dead: Domain | null,
): Born {
  const places = placesOf(emitting, dead);
  const frame = window.until * window.fps;
  const [begin, end] = emitting.between;
  const read = emitting.when === "where a field rises" ? readOn(places, emitting.weight) : undefined;
  const remembered = read && { weights: read };
  const isOn = frame >= begin - SLACK && (frame <= end + SLACK || emitting.from === "what dies");
  const none = { domain: null, due, born, ...remembered };
  if (places.count === 0 || !isOn) return none;
  const weights = weightsOf(emitting, places, read);
  const list = birthsDue(inLoop(emitting), window, due, places, risen(read, weighed), room);
  const next = list.due;
  const count = Math.min(list.ago.length, Math.max(0, room));
  const choose = chooser(emitting, places, weights);
  if (count === 0 || (list.of[0] < 0 && choose(0, 0) < 0)) return { ...none, due: next };
  const seed = hash3(window.seed, emitting.seed, 0);
  const cycle = birthsInLoop(emitting, places);
  const spots = new Spots(count);
  for (let i = 0; i < count; i++) {
    tick(8);
    const number = (born + i) % cycle;
    const chosen = list.of[i] >= 0 ? list.of[i] : choose(number, chanceOf(seed, number, 0));
    places.put(spots, i, chosen, seed, number);
  }
  const domain = newborn(
    emitting,
    window,
    { ago: list.ago, spots, seed, first: born, cycle },
    places,
    before,
    firstId,
  );
  return { domain, due: next, born: born + count, ...remembered };
}

const placesOf = ({ shape, from }: Emitting, dead: Domain | null): Birthplaces =>
  from === "what dies" ? birthplacesOf(dead ? { sites: dead } : {}, "sites") : birthplacesOf(shape, from);

const readOn = ({ domain }: Birthplaces, weight: NumberField): Float32Array =>
  runValues([weight], domain, { onlyFinite: true }).lanes[0];

/** By element that can be chosen; null where all weigh the same. */
function weightsOf(
  { weight, from }: Emitting,
  places: Birthplaces,
  read: Float32Array | undefined,
): Float64Array | null {
  const plain = plainNumber(weight);
  const isEven =
    from === "sites" ||
    from === "points" ||
    from === "face middles" ||
    from === "inside" ||
    from === "what dies";
  if (plain !== null && isEven) return plain > 0 ? null : new Float64Array(places.count);
  if (plain === null) return places.weightsOf(read ?? readOn(places, weight));
  if (plain <= 0) return new Float64Array(places.count);
  let even = evenWeights.get(places);
  if (!even)
    evenWeights.set(places, (even = places.weightsOf(new Float32Array(places.domain.count).fill(1))));
  return even;
}

const summed = new WeakMap<Float64Array, Float64Array>();

function runningSums(weights: Float64Array): Float64Array {
  let sums = summed.get(weights);
  if (!sums) {
    let sum = 0;
    summed.set(weights, (sums = weights.map((weight) => (sum += weight))));
  }
  return sums;
}

/** Where everything of a source weighs the same, the weights are those of areas and lengths alone. */
const evenWeights = new WeakMap<Birthplaces, Float64Array>();

/** Which element a birth is of; −1 where none can be chosen. */
function chooser(
  { inTurn }: Emitting,
  { count }: Birthplaces,
  weights: Float64Array | null,
): (number: number, chance: number) => number {
  if (!weights)
    return (number, chance) => (inTurn ? number % count : Math.min(count - 1, Math.floor(chance * count)));
  const open = inTurn ? Array.from(weights.keys()).filter((i) => weights[i] > 0) : [];
  if (inTurn) return (number) => (open.length > 0 ? open[number % open.length] : -1);
  const sums = runningSums(weights);
  const sum = sums[count - 1];
  return (_number, chance) => {
    const wanted = chance * sum;
    let [low, high] = [0, count - 1];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (sums[middle] > wanted) high = middle;
      else low = middle + 1;
    }
    return sum > 0 ? low : -1;
  };
}
