/** Where things have been: their places at frames before, joined by their ids. */
import { tick } from "../cancelling";
import {
  type Column,
  countUp,
  type Domain,
  LANES,
  type Lane,
  makeColumn,
  makeLanes,
  withColumns,
} from "../geometry/column";
import { ALONG_SPARE, type Curves, makeCurves } from "../geometry/curves";
import { floatsInMemory, inMemory, integersInMemory } from "../kernels/arena";
import { FIRST_ELEMENT, fixedAt, ownAt } from "../kernels/job";
import { Plan } from "../kernels/plan";
import type { State } from "../simulate/state";

/** One domain a frame that is remembered, the oldest first, and how many seconds of the piece each was at. */
export interface Trail extends State {
  readonly domains: Readonly<Record<string, Domain>>;
  readonly numbers: { readonly at: readonly number[] };
}

export const NO_TRAIL: Trail = { domains: {}, numbers: { at: [] } };

/** What is remembered of elements: columns are shared, so it costs nothing until they change. */
const remembered = ({ count, columns }: Domain): Domain => {
  const { position, color, id } = columns;
  const kept: Record<string, Column> = { position };
  if (color) kept.color = color;
  if (id) kept.id = id;
  return { count, columns: kept };
};

const nameOf = (seconds: number): string => `at ${seconds}`;

/** With the elements as they are at a moment, without what is older than so many seconds. */
export function withMoment(before: Trail, domain: Domain, seconds: number, length: number): Trail {
  // What lies just at the end is kept: sums of fractions may be a little over.
  const at = [...before.numbers.at.filter((then) => seconds - then <= length * (1 + 1e-9)), seconds];
  const domains: Record<string, Domain> = {};
  for (const then of at)
    domains[nameOf(then)] = then === seconds ? remembered(domain) : before.domains[nameOf(then)];
  return { domains, numbers: { at } };
}

export interface TrailOptions {
  /** Seconds of the present moment, and how far back trails reach. */
  readonly now: number;
  readonly length: number;
  /** Trails of what is gone stay until they have passed. */
  readonly keepsDead: boolean;
  /** Places nearer than that to the one before are left out. */
  readonly apart: number;
}

/**
 * A curve for each element that was there at two moments at least, from the oldest to the newest place. Points have `aged` (0 at the
 * newest moment, 1 at the end of the trail), `radius`, which is the rest of 1, and their colour as it was; curves the `id`.
 */
export function trailsOf(trail: Trail, present: Domain | null, options: TrailOptions): Curves | null {
  const { now, length, keepsDead, apart } = options;
  const moments = trail.numbers.at.filter((then) => then < now && now - then <= length * (1 + 1e-9));
  const domains = moments.map((then) => trail.domains[nameOf(then)]);
  const times = [...moments];
  if (present) {
    domains.push(remembered(present));
    times.push(now);
  }
  if (domains.length < 2) return null;
  const { ids, ofElement } = curvesOfElements(domains);
  const places = placesByCurve(ofElement, ids.length);
  const kept = present && !keepsDead ? withoutDead(places) : places;
  const chosen = apart > 0 ? farApart(domains, kept, apart) : kept;
  const begins = beginsOf(chosen, ids.length);
  return begins && filled(domains, times, chosen, begins, ids, options);
}

/** By moment the number of each curve's element, −1 where it was not there. Never written: moments share them. */
type Places = readonly Int32Array[];

function placesByCurve(ofElement: readonly Lane[], curves: number): Places {
  const known = new Map<Lane, Int32Array>();
  return ofElement.map((of) => {
    const before = known.get(of);
    if (before) return before;
    const places = integersInMemory(curves).fill(-1);
    for (let i = 0; i < of.length; i++) places[of[i]] = i;
    tick(of.length);
    known.set(of, places);
    return places;
  });
}

/** Without the curves of what is not there at the last moment. */
function withoutDead(places: Places): Places {
  const alive = places[places.length - 1];
  if (!alive.includes(-1)) return places;
  return places.map((moment) => {
    tick(moment.length);
    return inMemory(moment.map((element, curve) => (alive[curve] < 0 ? -1 : element)));
  });
}

/** Without what is nearer to the place before; the newest of each curve stays. */
function farApart(domains: readonly Domain[], places: Places, apart: number): Places {
  const curves = places[0].length;
  const last = new Int32Array(curves).fill(-1);
  for (const [m, moment] of places.entries())
    for (let curve = 0; curve < curves; curve++) if (moment[curve] >= 0) last[curve] = m;
  const before = makeLanes("vector", curves);
  const seen = new Uint8Array(curves);
  return places.map((moment, m) => {
    const { lanes } = domains[m].columns.position;
    tick(curves);
    const chosen = moment.map((element, curve) => {
      if (element < 0) return -1;
      const far = lanes.reduce((sum, lane, a) => sum + (lane[element] - before[a][curve]) ** 2, 0);
      if (seen[curve] && far < apart * apart && last[curve] !== m) return -1;
      seen[curve] = 1;
      for (let a = 0; a < LANES.vector; a++) before[a][curve] = lanes[a][element];
      return element;
    });
    return inMemory(chosen);
  });
}

interface Begins {
  /** By curve its first point, −1 for those of fewer than two. */
  readonly at: Int32Array;
  readonly curves: Int32Array;
  readonly total: number;
}

/** Null when there are no curves. */
function beginsOf(places: Places, curves: number): Begins | null {
  const counts = new Int32Array(curves);
  const times = new Map<Int32Array, number>();
  for (const moment of places) times.set(moment, (times.get(moment) ?? 0) + 1);
  for (const [moment, many] of times) {
    tick(curves / 4);
    for (let curve = 0; curve < curves; curve++) if (moment[curve] >= 0) counts[curve] += many;
  }
  const at = new Int32Array(curves).fill(-1);
  const made = new Int32Array(curves);
  let [total, many] = [0, 0];
  for (let curve = 0; curve < curves; curve++) {
    if (counts[curve] < 2) continue;
    at[curve] = total;
    made[many++] = curve;
    total += counts[curve];
  }
  return total > 0 ? { at, curves: made.subarray(0, many), total } : null;
}

/** Words of a moment in the table that the kernel takes. */
const MOMENT_WORDS = 10;

function filled(
  domains: readonly Domain[],
  times: readonly number[],
  places: Places,
  { at, curves, total }: Begins,
  ids: ArrayLike<number>,
  { now, length }: TrailOptions,
): Curves {
  const room = (lanes: number) => Array.from({ length: lanes }, () => floatsInMemory(total));
  const [position, shown, [along]] = [room(3), room(2), room(1)];
  const color = domains.some(({ columns }) => columns.color) ? room(4) : [];
  const table = integersInMemory(domains.length * MOMENT_WORDS).fill(0);
  const shares = new Float32Array(table.buffer, table.byteOffset, table.length);
  const address = (lane: Lane): number => inMemory(lane).byteOffset;
  for (const [m, { columns }] of domains.entries()) {
    const word = m * MOMENT_WORDS;
    const lanes = [places[m], ...columns.position.lanes, ...(columns.color?.lanes ?? [])];
    table.set(lanes.map(address), word);
    const share = length > 0 ? Math.min(1, (now - times[m]) / length) : 0;
    shares.set([share, 1 - share], word + MOMENT_WORDS - 2);
  }
  const plan = new Plan();
  const colored = color.length > 0 ? color : [0, 0, 0, 0];
  const lanes = [inMemory(at), inMemory(at.slice()), table, ...position, ...colored, ...shown, along];
  plan.calls.push({
    kernel: "trailPoints",
    operands: [
      FIRST_ELEMENT,
      ownAt(plan.own(ALONG_SPARE)),
      ...lanes.map((lane) => fixedAt(typeof lane === "number" ? lane : lane.byteOffset)),
    ],
    numbers: [domains.length],
  });
  plan.run(at.length, undefined, domains.length);
  const curveStarts = new Int32Array(curves.length + 1).fill(total);
  const ofCurve = new Int32Array(curves.length);
  for (let k = 0; k < curves.length; k++) {
    curveStarts[k] = at[curves[k]];
    ofCurve[k] = ids[curves[k]];
  }
  const made = makeCurves({
    position: position as unknown as [Float32Array, Float32Array, Float32Array],
    curveStarts,
    along,
  });
  const columns = {
    aged: makeColumn("number", [shown[0]]),
    radius: makeColumn("number", [shown[1]]),
    ...(color.length > 0 ? { color: makeColumn("color", color) } : {}),
  };
  return {
    ...made,
    points: withColumns(made.points, columns),
    curves: withColumns(made.curves, { id: makeColumn("integer", [ofCurve]) }),
  };
}

/** Numbers ids in the order in which they are asked for: by a table where they lie close together, as those of particles do. */
function numbering(lanes: readonly Lane[]): {
  readonly ids: number[];
  readonly numberOf: (id: number) => number;
} {
  const ids: number[] = [];
  let [least, most, count] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY, 0];
  for (const lane of lanes) {
    count += lane.length;
    for (let i = 0; i < lane.length; i++) {
      if (lane[i] < least) least = lane[i];
      if (lane[i] > most) most = lane[i];
    }
  }
  if (most - least < 4 * count) {
    const table = new Int32Array(most - least + 1);
    // One more than the number: 0 is for what has none yet.
    const numberOf = (id: number) => {
      const at = id - least;
      if (table[at] === 0) table[at] = ids.push(id);
      return table[at] - 1;
    };
    return { ids, numberOf };
  }
  const numbers = new Map<number, number>();
  const numberOf = (id: number) => {
    const known = numbers.get(id);
    if (known !== undefined) return known;
    numbers.set(id, ids.length);
    return ids.push(id) - 1;
  };
  return { ids, numberOf };
}

/** All ids there are, and which of them each element of each moment has. */
function curvesOfElements(domains: readonly Domain[]): { ids: ArrayLike<number>; ofElement: Lane[] } {
  const lanes = domains.map(({ columns }) => columns.id?.lanes[0]);
  // Without ids an element is told by its number.
  if (lanes.every((lane) => !lane)) {
    const all = countUp(domains.reduce((most, { count }) => Math.max(most, count), 0));
    const byCount = new Map<number, Lane>();
    return {
      ids: all,
      ofElement: domains.map(({ count }) => {
        const of = byCount.get(count) ?? all.subarray(0, count);
        byCount.set(count, of);
        return of;
      }),
    };
  }
  const known = domains.map(({ count }, m) => lanes[m] ?? countUp(count));
  const { ids, numberOf } = numbering(known);
  let before: { readonly lane: Lane; readonly found: Int32Array } | null = null;
  const ofElement = known.map((lane) => {
    if (before && isSame(before.lane, lane)) return before.found;
    const found = new Int32Array(lane.length);
    for (let i = 0; i < lane.length; i++) found[i] = numberOf(lane[i]);
    tick(lane.length);
    before = { lane, found };
    return found;
  });
  return { ids, ofElement };
}

function isSame(a: Lane, b: Lane): boolean {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}
