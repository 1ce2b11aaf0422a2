/** Cells that live or not, by how many live beside them, or by both beside them in a row (S. Wolfram, 1983). */
import { type Domain, makeColumn } from "../geometry/column";
import type { Incidence } from "../geometry/topology";
import type { State } from "../simulate/state";

/** `alive` (0 or 1), and `age`: generations since each came to life or died. */
export interface Cells extends State {
  readonly domains: { readonly cells: Domain };
}

export interface CountRule {
  /** With how many living neighbours a cell comes to life, and with how many it stays. */
  readonly born: ReadonlySet<number>;
  readonly stays: ReadonlySet<number>;
}

export const cellsOf = (alive: Float32Array, age: Float32Array): Cells => ({
  domains: {
    cells: {
      count: alive.length,
      columns: { alive: makeColumn("number", [alive]), age: makeColumn("number", [age]) },
    },
  },
});

export const aliveOf = ({ domains: { cells } }: Cells): Float32Array =>
  cells.columns.alive.lanes[0] as Float32Array;

/** One generation later. @param next whether cell i lives then */
function generation(before: Cells, next: (i: number, alive: Float32Array) => boolean): Cells {
  const alive = aliveOf(before);
  const [age] = before.domains.cells.columns.age.lanes;
  const made = alive.map((_, i) => (next(i, alive) ? 1 : 0));
  return cellsOf(
    made,
    Float32Array.from(age, (a, i) => (made[i] === alive[i] ? a + 1 : 0)),
  );
}

export const byCount = (before: Cells, { starts, items }: Incidence, { born, stays }: CountRule): Cells =>
  generation(before, (i, alive) => {
    let living = 0;
    for (let k = starts[i]; k < starts[i + 1]; k++) living += alive[items[k]];
    return (alive[i] > 0 ? stays : born).has(living);
  });

/** @param rule 0 to 255: bit 4 l + 2 o + r says whether a cell lives after its left, itself and its right; beyond the ends nothing does */
export const byRow = (before: Cells, rule: number): Cells =>
  generation(before, (i, alive) => {
    const bits = 4 * (alive[i - 1] ?? 0) + 2 * alive[i] + (alive[i + 1] ?? 0);
    return ((rule >> bits) & 1) === 1;
  });
