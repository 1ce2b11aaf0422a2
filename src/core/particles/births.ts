/** How particles are born: when, how many, where on their source, and with what. */
import { tick } from "../cancelling";
import { constant, type NumberField, plainNumber, type VectorField } from "../fields/expression";
import { runValues } from "../fields/run";
import {
  type Column,
  type Domain,
  makeColumn,
  makeFloats,
  makeIntegers,
  makeLanes,
} from "../geometry/column";
import type { Shape } from "../geometry/shape";
import { cosine, sine } from "../maths/exact";
import { hash3 } from "../maths/random";
import type { Vec3 } from "../maths/vector";
import type { Parts } from "../values/parts";
import {
  type Birthplace,
  type Birthplaces,
  birthplacesOf,
  carriedAt,
  chanceOf,
  isAlike,
  Spots,
} from "./birthplaces";

export const BIRTH_TIMES = ["at a rate", "in bursts", "at frames", "once", "where a field rises"] as const;
export type BirthTimes = (typeof BIRTH_TIMES)[number];

/** As the node Emitter says it; angles in radians. */
export interface Emitting {
  readonly shape: Shape;
  readonly from: Birthplace;
  readonly when: BirthTimes;
  /** Each element of the source as many, instead of all together. */
  readonly each: boolean;
  /** A second. */
  readonly rate: number;
  /** At once. */
  readonly count: number;
  /** Seconds from burst to burst. */
  readonly every: number;
  readonly frames: readonly number[];
  /** Nothing is born before the first and after the last of these frames. */
  readonly between: readonly [number, number];
  readonly weight: NumberField;
  readonly inTurn: boolean;
  /** Seconds; 0 for ever. */
  readonly life: NumberField;
  readonly lifeSpread: number;
  readonly speed: NumberField;
  readonly speedSpread: number;
  readonly spread: number;
  readonly velocity: VectorField;
  readonly inherit: number;
  readonly carry: boolean;
  /** Of what dies: those of this generation and above have no children. */
  readonly generations: number;
  readonly seed: number;
  /** Seconds after which births come again with the same chances; null for never. */
  readonly loop: number | null;
}

const ZERO = constant(0);

/** Frames before and after all others; numbers that text can say. */
export const ALWAYS: readonly [number, number] = [-1e9, 1e9];

/** What an emitter does of which only a shape is said. */
export const USUAL: Omit<Emitting, "shape"> = {
  from: "what is there",
  when: "at a rate",
  each: false,
  rate: 60,
  count: 100,
  every: 1,
  frames: [],
  between: ALWAYS,
  weight: constant(1),
  inTurn: false,
  life: constant(3),
  lifeSpread: 0.3,
  speed: constant(1),
  speedSpread: 0.3,
  spread: (15 * Math.PI) / 180,
  velocity: [ZERO, ZERO, ZERO],
  inherit: 0,
  carry: true,
  generations: 1,
  seed: 0,
  loop: null,
};

export function birthsOf(emitting: Emitting): Parts {
  const { shape, weight, life, speed, velocity, ...settings } = emitting;
  return {
    what: "births",
    title: "Emitter",
    shapes: { shape },
    fields: { weight: [weight], life: [life], speed: [speed], velocity },
    settings,
  };
}

/** A shape that is linked where births are wanted. */
export const usualBirths = (shape: Shape): Parts => birthsOf({ ...USUAL, shape });

export const emittingOf = ({ shapes, fields, settings }: Parts): Emitting =>
  ({
    ...settings,
    shape: shapes.shape,
    weight: fields.weight[0],
    life: fields.life[0],
    speed: fields.speed[0],
    velocity: fields.velocity,
  }) as unknown as Emitting;

/** An interval of time in which particles are born. */
export interface Window {
  /** Seconds of the piece at its end. */
  readonly until: number;
  /** Its length in seconds of the piece. */
  readonly span: number;
  /** Times that length passes for what is born: less in slow motion, 0 where it stands still. */
  readonly scale: number;
  readonly fps: number;
  /** Nothing was before: what is due at its very end alone is born. */
  readonly first: boolean;
  /** The piece's seed. */
  readonly seed: number;
}

/** What is remembered of an emitter from step to step. */
export interface Due {
  /** Births that have been due at its rate, fractions included. */
  readonly due: number;
  /** All births so far: numbers of their chances. */
  readonly born: number;
  /** The weights of the source's elements, for births where they rise. */
  readonly weights?: Float32Array;
}

/** Seconds that stand for a life without end: larger than any piece. */
const FOR_EVER = 1e9;
/** Births fall on whole numbers of what is due; sums of fractions may be short of them by this. */
const SLACK = 1e-9;

export interface Born extends Due {
  /** Columns position, velocity, id, age (how long ago in this window), life, and what is carried; null for none. */
  readonly domain: Domain | null;
}

/** Births that are due: how long before the window's end each, and of which element where that is settled, else −1. */
interface List {
  readonly ago: Float64Array;
  readonly of: Int32Array;
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
  const read =
    emitting.when === "where a field rises"
      ? runValues([emitting.weight], places.domain, { onlyFinite: true }).lanes[0]
      : undefined;
  const remembered = read && { weights: read };
  const isOn = frame >= begin - SLACK && (frame <= end + SLACK || emitting.from === "what dies");
  const none = { domain: null, due, born, ...remembered };
  if (places.count === 0 || !isOn) return none;
  const weights = weightsOf(emitting, places);
  const list = birthsDue(inLoop(emitting), window, due, places, risen(read, weighed));
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

/** By element that can be chosen; null where all weigh the same. */
function weightsOf({ weight, from }: Emitting, places: Birthplaces): Float64Array | null {
  const plain = plainNumber(weight);
  const isEven =
    from === "sites" ||
    from === "points" ||
    from === "face middles" ||
    from === "inside" ||
    from === "what dies";
  if (plain !== null && isEven) return plain > 0 ? null : new Float64Array(places.count);
  if (plain === null)
    return places.weightsOf(runValues([weight], places.domain, { onlyFinite: true }).lanes[0]);
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

/** The rate and the time between bursts that fit into a loop a whole number of times. */
function inLoop(emitting: Emitting): Emitting {
  const { loop, rate, every } = emitting;
  if (loop === null) return emitting;
  return {
    ...emitting,
    rate: Math.round(rate * loop) / loop,
    every: loop / Math.max(1, Math.round(loop / every)),
  };
}

/** Births from one time that they come alike to the next. */
function birthsInLoop(
  { loop, when, from, rate, every, count, each, frames }: Emitting,
  { domain }: Birthplaces,
): number {
  if (loop === null || from === "what dies" || when === "where a field rises") return Number.MAX_SAFE_INTEGER;
  const times = each ? domain.count : 1;
  const births =
    when === "at a rate"
      ? Math.round(rate * loop)
      : Math.round(count) *
        (when === "in bursts"
          ? Math.max(1, Math.round(loop / every))
          : when === "at frames"
            ? frames.length
            : 1);
  return Math.max(1, births * times);
}

const NONE: List = { ago: new Float64Array(0), of: new Int32Array(0) };

/** As many at one moment, of elements from the first on where each has its own. */
const atOnce = (count: number, ago: number, of: (i: number) => number): List => ({
  ago: new Float64Array(count).fill(ago),
  of: Int32Array.from({ length: count }, (_, i) => of(i)),
});

const joined = (lists: readonly List[]): List =>
  lists.length < 2
    ? (lists[0] ?? NONE)
    : {
        ago: Float64Array.from(lists.flatMap(({ ago }) => [...ago])),
        of: Int32Array.from(lists.flatMap(({ of }) => [...of])),
      };

function birthsDue(
  emitting: Emitting,
  { until, span, scale, fps, first }: Window,
  due: number,
  places: Birthplaces,
  rising: readonly number[],
): List & { readonly due: number } {
  const { when, each, rate, every, frames, between, loop } = emitting;
  const count = Math.max(0, Math.round(emitting.count));
  if (emitting.from === "what dies")
    return { ...atOnce(places.count * count, 0, (i) => i % places.count), due };
  const elements = places.domain.count;
  const times = each ? elements : 1;
  const some = (ago: number): List =>
    atOnce(count * times, ago, (i) => (each && elements === places.count ? i % elements : -1));
  /** How long before the window's end a moment lies; null outside of it. */
  const ago = (moment: number): number | null => {
    const past = until - moment;
    if (first) return Math.abs(past) < SLACK ? 0 : null;
    return past > -SLACK && past < span - SLACK ? Math.max(0, past) : null;
  };
  /** The last time that a moment has come again, or itself. */
  const latest = (moment: number) =>
    loop === null ? moment : moment + Math.floor((until - moment) / loop + SLACK) * loop;
  const opened = between[0] > ALWAYS[0] ? between[0] / fps : 0;
  switch (when) {
    case "at a rate": {
      if (first) return { ...NONE, due };
      const next = due + Math.max(0, rate) * times * span * scale;
      const whole = Math.floor(next + SLACK) - Math.floor(due + SLACK);
      const passed = Float64Array.from({ length: whole }, (_, i) => {
        const number = Math.floor(due + SLACK) + i + 1;
        return Math.min(span, Math.max(0, ((next - number) / (next - due)) * span));
      });
      return { ago: passed, of: new Int32Array(whole).fill(-1), due: next };
    }
    case "in bursts": {
      const step = Math.max(1 / 1000, every);
      const last = Math.floor((until - opened) / step + SLACK);
      const bursts: List[] = [];
      const begins = loop === null && between[0] > ALWAYS[0];
      const earliest = Math.ceil((until - span - opened) / step - SLACK);
      for (let k = begins ? Math.max(0, earliest) : earliest; k <= last; k++) {
        const past = ago(opened + k * step);
        if (past !== null) bursts.push(some(past));
      }
      return { ...joined(bursts), due };
    }
    case "at frames": {
      const moments = frames.flatMap((frame) => ago(latest(frame / fps)) ?? []);
      return { ...joined(moments.map(some)), due };
    }
    case "once": {
      if (loop !== null) {
        const past = ago(latest(opened));
        return { ...(past === null ? NONE : some(past)), due };
      }
      // A beginning that lies before the first frame has come with that.
      const past = first && until >= opened - SLACK ? 0 : ago(opened);
      if (past === null) return { ...NONE, due };
      return { ...(due > 0 ? NONE : some(past)), due: 1 };
    }
    default:
      return { ...atOnce(rising.length * count, 0, (i) => rising[i % rising.length]), due };
  }
}

/** Elements whose weight has gone above 0.5 since the step before. */
const risen = (now: Float32Array | undefined, before: Float32Array | undefined): number[] =>
  now && before?.length === now.length
    ? Array.from(now.keys()).filter((i) => now[i] > 0.5 && before[i] <= 0.5)
    : [];

interface Placed {
  readonly ago: Float64Array;
  readonly spots: Spots;
  /** Of their chances, and the number of the first of them. */
  readonly seed: number;
  readonly first: number;
  /** Births after which chances come again. */
  readonly cycle: number;
}

function newborn(
  emitting: Emitting,
  { span }: Window,
  { ago, spots, seed, first, cycle }: Placed,
  places: Birthplaces,
  before: Shape | undefined,
  firstId: number,
): Domain {
  const { count } = spots;
  const then = before && isAlike(before, emitting.shape) ? birthplacesOf(before, emitting.from) : null;
  const lanesThen = then && then.count === places.count ? then.domain.columns.position.lanes : null;
  const [position, velocity, normal, moved] = [0, 1, 2, 3].map(() => makeLanes("vector", count));
  const [age, life] = [makeFloats(count), makeFloats(count)];
  const id = makeIntegers(count);
  for (let i = 0; i < count; i++) {
    tick(8);
    const back = span > 0 ? ago[i] / span : 0;
    const isMoved = lanesThen !== null && spots.isOfElements(i);
    const [x, y, z] = [spots.facing[0][i], spots.facing[1][i], spots.facing[2][i]];
    const size = Math.sqrt(x * x + y * y + z * z) || 1;
    for (let a = 0; a < 3; a++) {
      const place = spots.place[a][i];
      const was = isMoved ? spots.mean(lanesThen[a], i) : place;
      position[a][i] = place + (was - place) * back;
      moved[a][i] = span > 0 ? (place - was) / span : 0;
      normal[a][i] = spots.facing[a][i] / size;
    }
    age[i] = ago[i];
    id[i] = firstId + i;
  }
  const parent = emitting.from === "what dies" ? places.domain.columns.velocity?.lanes : undefined;
  const columns: Record<string, Column> = {
    ...(emitting.carry ? carriedAt(places.domain, spots) : {}),
    position: makeColumn("vector", position),
    normal: makeColumn("vector", normal),
    id: makeColumn("integer", [id]),
  };
  const fields = [emitting.life, emitting.speed, ...emitting.velocity];
  const [lives, speeds, ...own] = runValues(fields, { count, columns }, { onlyFinite: true }).lanes;
  for (let i = 0; i < count; i++) {
    const chance = (channel: number) => chanceOf(seed, (first + i) % cycle, channel);
    const speed = speeds[i] * (1 + emitting.speedSpread * (2 * chance(1) - 1));
    const way = turned([normal[0][i], normal[1][i], normal[2][i]], emitting.spread, chance(2), chance(3));
    for (let a = 0; a < 3; a++) {
      const from = parent ? parent[a][spots.nearest(i)] : moved[a][i];
      velocity[a][i] = speed * way[a] + own[a][i] + emitting.inherit * from;
    }
    life[i] = lives[i] > 0 ? lives[i] * (1 + emitting.lifeSpread * (2 * chance(4) - 1)) : FOR_EVER;
  }
  const { normal: _facing, ...kept } = columns;
  return {
    count,
    columns: {
      ...kept,
      velocity: makeColumn("vector", velocity),
      age: makeColumn("number", [age]),
      life: makeColumn("number", [life]),
    },
  };
}

/** A direction within an angle of another one, every one of the cone as likely. */
function turned([x, y, z]: Vec3, angle: number, up: number, round: number): Vec3 {
  if (angle <= 0) return [x, y, z];
  const cos = 1 - up * (1 - cosine(Math.min(angle, Math.PI)));
  const sin = Math.sqrt(Math.max(0, 1 - cos * cos));
  // Two directions across (T. Duff et al., "Building an orthonormal basis, revisited", 2017).
  const sign = z >= 0 ? 1 : -1;
  const a = -1 / (sign + z);
  const b = x * y * a;
  const [s, c] = [sin * sine(2 * Math.PI * round), sin * cosine(2 * Math.PI * round)];
  return [
    x * cos + (1 + sign * x * x * a) * c + b * s,
    y * cos + sign * b * c + (sign + y * y * a) * s,
    z * cos - sign * x * c - y * s,
  ];
}
