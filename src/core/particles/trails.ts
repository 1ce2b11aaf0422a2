/** Where things have been: their places at frames before, joined by their ids. */
import { tick } from "../cancelling";
import {
  type Column,
  countUp,
  type Domain,
  LANES,
  type Lane,
  makeColumn,
  makeFloats,
  makeLanes,
  withColumns,
} from "../geometry/column";
import { type Curves, makeCurves } from "../geometry/curves";
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
  const alive = new Uint8Array(ids.length).fill(keepsDead ? 1 : 0);
  if (present && !keepsDead) for (const curve of ofElement[ofElement.length - 1]) alive[curve] = 1;
  const kept = chosenPlaces(domains, ofElement, alive, ids.length, apart);
  const starts = startsOf(kept, ofElement, ids.length);
  return starts && filled(domains, times, kept, ofElement, starts, ids, options);
}

/** Where the points of each curve begin, −1 for those of fewer than two; null when there are none. */
function startsOf(
  kept: readonly Int32Array[],
  ofElement: readonly Lane[],
  curves: number,
): { readonly at: Int32Array; readonly curves: readonly number[]; readonly total: number } | null {
  const counts = new Int32Array(curves);
  for (const [m, places] of kept.entries()) {
    const of = ofElement[m];
    for (let k = 0; k < places.length; k++) counts[of[places[k]]]++;
  }
  const at = new Int32Array(curves).fill(-1);
  const made: number[] = [];
  let total = 0;
  for (let k = 0; k < curves; k++) {
    if (counts[k] < 2) continue;
    at[k] = total;
    made.push(k);
    total += counts[k];
  }
  return total > 0 ? { at, curves: made, total } : null;
}

function filled(
  domains: readonly Domain[],
  times: readonly number[],
  kept: readonly Int32Array[],
  ofElement: readonly Lane[],
  { at, curves, total }: NonNullable<ReturnType<typeof startsOf>>,
  ids: ArrayLike<number>,
  { now, length }: TrailOptions,
): Curves {
  const position = makeLanes("vector", total) as Float32Array[];
  const [aged, radius] = [makeFloats(total), makeFloats(total)];
  const isColoured = domains.some(({ columns }) => columns.color);
  const color = (isColoured ? makeLanes("color", total) : []) as Float32Array[];
  const shares = times.map((then) => (length > 0 ? Math.min(1, (now - then) / length) : 0));
  const next = at.slice();
  const begun = new Int32Array(kept.length);
  // Some curves after the other, so that what is written lies close together.
  const step = ofElement.every(ascends) ? TILE : at.length;
  for (let last = step; last < at.length + step; last += step)
    for (const [m, places] of kept.entries()) {
      const of = ofElement[m];
      const first = begun[m];
      let end = first;
      while (end < places.length && of[places[end]] < last) end++;
      begun[m] = end;
      const some = places.subarray(first, end);
      const to = new Int32Array(some.length);
      for (let k = 0; k < to.length; k++) {
        const curve = of[some[k]];
        to[k] = at[curve] < 0 ? -1 : next[curve]++;
      }
      const { position: place, color: own } = domains[m].columns;
      for (let l = 0; l < 3; l++) scatter(position[l], place.lanes[l] as Float32Array, some, to);
      for (let l = 0; l < color.length; l++)
        if (own) scatter(color[l], own.lanes[l] as Float32Array, some, to);
        else fillAt(color[l], 1, to);
      fillAt(aged, shares[m], to);
      fillAt(radius, 1 - shares[m], to);
      tick(some.length);
    }
  const made = makeCurves({
    position: position as [Float32Array, Float32Array, Float32Array],
    curveStarts: Int32Array.from([...curves.map((k) => at[k]), total]),
  });
  const columns = {
    aged: makeColumn("number", [aged]),
    radius: makeColumn("number", [radius]),
    ...(isColoured ? { color: makeColumn("color", color) } : {}),
  };
  return {
    ...made,
    points: withColumns(made.points, columns),
    curves: withColumns(made.curves, { id: makeColumn("integer", [Int32Array.from(curves, (k) => ids[k])]) }),
  };
}

/** Curves that are filled together. */
const TILE = 512;

function ascends(numbers: Lane): boolean {
  for (let i = 1; i < numbers.length; i++) if (numbers[i] < numbers[i - 1]) return false;
  return true;
}

/** Writes what elements have to where their points are, −1 for nowhere. */
function scatter(out: Float32Array, from: Float32Array, places: Int32Array, to: Int32Array): void {
  for (let k = 0; k < to.length; k++) if (to[k] >= 0) out[to[k]] = from[places[k]];
}

function fillAt(out: Float32Array, value: number, to: Int32Array): void {
  for (let k = 0; k < to.length; k++) if (to[k] >= 0) out[to[k]] = value;
}

/** All ids there are, and which of them each element of each moment has. */
function curvesOfElements(domains: readonly Domain[]): { ids: ArrayLike<number>; ofElement: Lane[] } {
  const lanes = domains.map(({ columns }) => columns.id?.lanes[0]);
  // Without ids an element is told by its number.
  if (lanes.every((lane) => !lane)) {
    const all = countUp(domains.reduce((most, { count }) => Math.max(most, count), 0));
    return { ids: all, ofElement: domains.map(({ count }) => all.subarray(0, count)) };
  }
  const numbers = new Map<number, number>();
  const ids: number[] = [];
  let before: { readonly lane: Lane; readonly found: Int32Array } | null = null;
  const ofElement = domains.map(({ count }, m) => {
    const lane = lanes[m] ?? countUp(count);
    if (before && isSame(before.lane, lane)) return before.found;
    const found = new Int32Array(count);
    for (let i = 0; i < count; i++) {
      let number = numbers.get(lane[i]);
      if (number === undefined) {
        number = ids.push(lane[i]) - 1;
        numbers.set(lane[i], number);
      }
      found[i] = number;
    }
    tick(count);
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

/** By moment the elements whose places are taken; the newest of each is always. */
function chosenPlaces(
  domains: readonly Domain[],
  ofElement: readonly Lane[],
  alive: Uint8Array,
  curves: number,
  apart: number,
): Int32Array[] {
  const isWhole = !alive.includes(0);
  const all = domains.map(({ count }, m) =>
    isWhole ? countUp(count) : countUp(count).filter((i) => alive[ofElement[m][i]] === 1),
  );
  if (apart <= 0) return all;
  const last = new Int32Array(curves).fill(-1);
  for (const [m, places] of all.entries()) for (const i of places) last[ofElement[m][i]] = m;
  const place = makeLanes("vector", curves);
  const seen = new Uint8Array(curves);
  return all.map((places, m) => {
    const { lanes } = domains[m].columns.position;
    return places.filter((i) => {
      const curve = ofElement[m][i];
      const far = lanes.reduce((sum, lane, a) => sum + (lane[i] - place[a][curve]) ** 2, 0);
      if (seen[curve] && far < apart * apart && last[curve] !== m) return false;
      seen[curve] = 1;
      for (let a = 0; a < LANES.vector; a++) place[a][curve] = lanes[a][i];
      return true;
    });
  });
}
