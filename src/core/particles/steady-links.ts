/** Links between neighbours that hold a little longer than they need to begin, so that they do not flicker. */
import { tick } from "../cancelling";
import { type Domain, makeColumn } from "../geometry/column";
import type { State } from "../simulate/state";
import { PointGrid } from "../spatial/point-grid";
import { reachOf } from "../spatial/reach";

/** A link an element: ids of its ends as columns `from` and `to`, and for how many seconds it has been there as `age`. */
export interface Links extends State {
  readonly domains: { readonly links: Domain };
}

const linksOf = (from: number[], to: number[], age: number[]): Links => ({
  domains: {
    links: {
      count: from.length,
      columns: {
        from: makeColumn("integer", [Int32Array.from(from)]),
        to: makeColumn("integer", [Int32Array.from(to)]),
        age: makeColumn("number", [Float32Array.from(age)]),
      },
    },
  },
});

export const NO_LINKS: Links = linksOf([], [], []);

export interface Linking {
  /** Units within which a link begins. */
  readonly reach: number;
  /** Times the reach up to which it holds, 1 or more. */
  readonly hold: number;
  /** Links of each element that begin or hold, the nearest first; others may link to it besides. */
  readonly most: number;
}

/** Where the element of each id is. */
export function placesOfIds({ count, columns }: Domain): {
  readonly idOf: (i: number) => number;
  readonly at: Map<number, number>;
} {
  const ids = columns.id?.lanes[0];
  const idOf = (i: number): number => ids?.[i] ?? i;
  const at = new Map<number, number>();
  for (let i = 0; i < count; i++) at.set(idOf(i), i);
  return { idOf, at };
}

export function steppedLinks(
  before: Links,
  elements: Domain,
  { reach, hold, most }: Linking,
  seconds: number,
): Links {
  const place = elements.columns.position.lanes as readonly Float32Array[];
  if (elements.count < 2) return NO_LINKS;
  const { idOf, at } = placesOfIds(elements);
  const far = (i: number, j: number) =>
    Math.sqrt(
      (place[0][i] - place[0][j]) ** 2 + (place[1][i] - place[1][j]) ** 2 + (place[2][i] - place[2][j]) ** 2,
    );
  const [from, to, ages]: number[][] = [[], [], []];
  const counts = new Int32Array(elements.count);
  const known = new Set<string>();
  const take = (i: number, j: number, age: number) => {
    const [a, b] = [idOf(i), idOf(j)];
    const key = a < b ? `${a} ${b}` : `${b} ${a}`;
    if (known.has(key)) return;
    known.add(key);
    from.push(a);
    to.push(b);
    ages.push(age);
    counts[i]++;
  };
  const furthest = reachOf(reach * hold, place);
  const { from: starts, to: ends, age } = before.domains.links.columns;
  for (let l = 0; l < before.domains.links.count; l++) {
    tick(2);
    const [i, j] = [at.get(starts.lanes[0][l]), at.get(ends.lanes[0][l])];
    if (i === undefined || j === undefined || far(i, j) > furthest) continue;
    take(i, j, age.lanes[0][l] + seconds);
  }
  const k = Math.min(most, elements.count - 1);
  const { numbers } = new PointGrid(place).nearest(place, { k, own: true, most: reachOf(reach, place) });
  for (let i = 0; i < elements.count; i++)
    for (let s = 0; s < k && counts[i] < most; s++) {
      tick();
      const j = numbers[i * k + s];
      if (j < 0) break;
      take(i, j, 0);
    }
  return linksOf(from, to, ages);
}
