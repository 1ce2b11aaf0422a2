/**
 * Particles that wander until they touch what is there and stick to it (T. Witten and L. Sander, "Diffusion-limited aggregation", 1981), off any
 * lattice. Each binds to one other, so what grows is a tree.
 */
import { tick } from "../cancelling";
import { type Domain, makeColumn } from "../geometry/column";
import { cosine, lengthOf, sine } from "../maths/exact";
import { hash3, unit24 } from "../maths/random";
import type { Vec3 } from "../maths/vector";
import type { State } from "../simulate/state";

/** Particles: `position`, `parent` (−1 for a seed; always before its children), `born` (their number among those that came). */
export interface Crust extends State {
  readonly domains: { readonly nodes: Domain };
}

export interface CrustSettings {
  /** Units between two that stick together. */
  readonly size: number;
  /** Added to each step, in parts of it: a wind that particles come with. */
  readonly drift: Vec3;
  /** Chance to stick at a touch: less makes it denser. */
  readonly stick: number;
  /** Stays in the plane across y of the first seed. */
  readonly flat: boolean;
  readonly seed: number;
}

/** Steps that one particle wanders at most, before it is given up; and how many are tried for one that sticks. */
const MOST_STEPS = 20_000;
const TRIES = 20;
/** Of `size`: one step near to what is there, and how far outside of all a particle begins. */
const STEP = 0.4;
const BEGINS = 4;

/** Of `size`: sides of larger cells, in which it is known that nothing is within that many. */
const WIDE = [4, 16, 64];

const CELL_BITS = 17;
const HALF = 2 ** (CELL_BITS - 1);
const keyOf = (i: number, j: number, k: number): number =>
  ((i + HALF) * 2 ** CELL_BITS + (j + HALF)) * 2 ** CELL_BITS + (k + HALF);

/** Who stands where, in cells as wide as two that stick are apart; and in wider ones whether anybody is in or beside them. */
class Cells {
  private readonly cells = new Map<number, number[]>();
  private readonly crowded = WIDE.map(() => new Set<number>());

  constructor(
    private readonly side: number,
    private readonly places: readonly number[][],
  ) {}

  add(n: number): void {
    const [i, j, k] = this.places.map((lane) => Math.floor(lane[n] / this.side));
    const key = keyOf(i, j, k);
    const cell = this.cells.get(key);
    if (cell) cell.push(n);
    else this.cells.set(key, [n]);
    for (const [level, wide] of WIDE.entries()) this.crowd(this.crowded[level], i, j, k, wide);
  }

  private crowd(crowded: Set<number>, i: number, j: number, k: number, wide: number): void {
    const [a, b, c] = [Math.floor(i / wide), Math.floor(j / wide), Math.floor(k / wide)];
    for (let x = a - 1; x <= a + 1; x++)
      for (let y = b - 1; y <= b + 1; y++) for (let z = c - 1; z <= c + 1; z++) crowded.add(keyOf(x, y, z));
  }

  /** How far from a place nobody can be, in sides of a cell; 0 where somebody may be near. */
  freeAround([x, y, z]: Vec3): number {
    let free = 0;
    for (const [level, wide] of WIDE.entries()) {
      const side = this.side * wide;
      const key = keyOf(Math.floor(x / side), Math.floor(y / side), Math.floor(z / side));
      if (this.crowded[level].has(key)) break;
      free = wide;
    }
    return free;
  }

  /** The nearest one that is no farther than a cell; −1 for none. */
  nearest([x, y, z]: Vec3): number {
    const [px, py, pz] = this.places;
    const [i, j, k] = [x, y, z].map((v) => Math.floor(v / this.side));
    let [best, least] = [-1, this.side * this.side];
    for (let a = i - 1; a <= i + 1; a++)
      for (let b = j - 1; b <= j + 1; b++)
        for (let c = k - 1; c <= k + 1; c++)
          for (const n of this.cells.get(keyOf(a, b, c)) ?? []) {
            const far = (px[n] - x) ** 2 + (py[n] - y) ** 2 + (pz[n] - z) ** 2;
            if (far <= least && (far < least || n < best || best < 0)) [best, least] = [n, far];
          }
    return best;
  }
}

export const seededCrust = (places: readonly ArrayLike<number>[]): Crust =>
  crustOf(
    places.map((lane) => Array.from(lane)),
    Array.from(places[0], () => -1),
    Array.from(places[0], () => 0),
  );

const crustOf = (places: readonly number[][], parent: readonly number[], born: readonly number[]): Crust => ({
  domains: {
    nodes: {
      count: parent.length,
      columns: {
        position: makeColumn(
          "vector",
          places.map((lane) => Float32Array.from(lane)),
        ),
        parent: makeColumn("integer", [Int32Array.from(parent)]),
        born: makeColumn("number", [Float32Array.from(born)]),
      },
    },
  },
});

const farOf = (places: readonly number[][], n: number, middle: Vec3): number =>
  lengthOf(places[0][n] - middle[0], places[1][n] - middle[1], places[2][n] - middle[2]);

/** So many particles more. @param first number of the first of them, from which its chances follow */
export function grownCrust(before: Crust, settings: CrustSettings, first: number, more: number): Crust {
  const { count, columns } = before.domains.nodes;
  if (more <= 0 || count === 0 || !(settings.size > 0)) return before;
  const places = columns.position.lanes.map((lane) => Array.from(lane));
  const parent = Array.from(columns.parent.lanes[0]);
  const born = Array.from(columns.born.lanes[0]);
  const cells = new Cells(settings.size, places);
  const middle = [0, 1, 2].map((a) => places[a][0]) as unknown as Vec3;
  let reach = 0;
  for (let n = 0; n < count; n++) {
    cells.add(n);
    reach = Math.max(
      reach,
      lengthOf(places[0][n] - middle[0], places[1][n] - middle[1], places[2][n] - middle[2]),
    );
  }
  for (let n = first; n < first + more; n++) {
    const found = wandered(cells, places, middle, reach, settings, n);
    if (!found) continue;
    const [place, other] = found;
    for (let a = 0; a < 3; a++) places[a].push(Math.fround(place[a]));
    parent.push(other);
    born.push(n);
    cells.add(parent.length - 1);
    reach = Math.max(reach, farOf(places, parent.length - 1, middle));
  }
  return crustOf(places, parent, born);
}

/** A unit vector by chance. */
function anyWay(seed: number, n: number, step: number, flat: boolean): Vec3 {
  const turn = unit24(hash3(seed, n, step * 2)) * 2 * Math.PI;
  const up = flat ? 0 : unit24(hash3(seed, n, step * 2 + 1)) * 2 - 1;
  const wide = Math.sqrt(1 - up * up);
  return [wide * cosine(turn), up, wide * sine(turn)];
}

/** Where a particle comes to stick, and to whom; null when none of several does. */
function wandered(
  cells: Cells,
  places: readonly number[][],
  middle: Vec3,
  reach: number,
  { size, drift, stick, flat, seed }: CrustSettings,
  n: number,
): readonly [Vec3, number] | null {
  let turn = 0;
  for (let tries = 0; tries < TRIES; tries++) {
    const out = reach + BEGINS * size;
    let way = anyWay(seed, n, turn++, flat);
    let place = middle.map((v, a) => v + way[a] * out) as unknown as Vec3;
    for (let step = 0; step < MOST_STEPS; step++) {
      tick();
      const far = lengthOf(place[0] - middle[0], place[1] - middle[1], place[2] - middle[2]);
      if (far > 2 * out + 4 * size) break;
      const free = cells.freeAround(place);
      const other = free > 0 ? -1 : cells.nearest(place);
      if (other >= 0 && (stick >= 1 || unit24(hash3(seed ^ 0x5bd1, n, turn)) < stick))
        return [touching(place, places, other, size), other];
      // Where there is nothing around it goes through that at once.
      const long = Math.max(STEP * size, (free - 1) * size, far - reach - 2 * size);
      way = anyWay(seed, n, turn++, flat);
      place = place.map((v, a) => v + (way[a] + (flat && a === 1 ? 0 : drift[a])) * long) as unknown as Vec3;
    }
  }
  return null;
}

/** A place put to just as far from another one as two that stick are apart. */
function touching(place: Vec3, places: readonly number[][], other: number, size: number): Vec3 {
  const way = place.map((v, a) => v - places[a][other]);
  const far = lengthOf(way[0], way[1], way[2]);
  if (far < 1e-9) return place;
  return way.map((v, a) => places[a][other] + (v / far) * size) as unknown as Vec3;
}
