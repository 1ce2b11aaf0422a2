import { tick } from "../../cancelling";
import { makeColumn, makeIntegers } from "../../geometry/column";
import { HashGrid, SMALLEST_CELL } from "../../spatial/hash-grid";
import { reachOf } from "../../spatial/reach";
import { defineNode } from "../define";
import { elementsOf, onElements, withElements } from "../elements";
import { length, out, shape } from "../ports";

export const groupNearby = defineNode({
  type: "group-nearby",
  family: "adjust",
  title: "Group nearby",
  about:
    "Numbers the groups that elements make with those near to them: who is linked by short steps belongs together.",
  synonyms: ["cluster", "islands", "connected", "clump", "closeness", "label"],
  inputs: {
    shape: shape({ about: "Clones or sites; without those, points." }),
    on: onElements(),
    reach: length({
      default: 0.5,
      min: 0,
      soft: [0, 3],
      about: "How far a step from one to the next may be.",
    }),
  },
  outputs: {
    shape: out.shape(
      "The same; `group` is the number of the group that each is in, counted from 0 in the order of their first ones.",
    ),
  },
  summary: ({ reach }) => `by steps of ${reach} units`,
  evaluate({ shape, on, reach }, context) {
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape };
    const { domain } = elements;
    const [x, y, z] = domain.columns.position.lanes;
    const parent = makeIntegers(domain.count);
    for (let i = 0; i < domain.count; i++) parent[i] = i;
    /** The first of a group, found by halving the way there (R. Tarjan and J. van Leeuwen, 1984). */
    const firstOf = (i: number): number => {
      let at = i;
      while (parent[at] !== at) {
        parent[at] = parent[parent[at]];
        at = parent[at];
      }
      return at;
    };
    // Those on one place belong together even without reach.
    const within = Math.max(reachOf(reach, [x, y, z]), SMALLEST_CELL);
    const grid = new HashGrid([x, y, z], within);
    for (let i = 0; i < domain.count; i++) {
      tick(8);
      grid.within(x[i], y[i], z[i], within, (j) => {
        const [a, b] = [firstOf(i), firstOf(j)];
        if (a < b) parent[b] = a;
        else parent[a] = b;
        return undefined;
      });
    }
    const group = makeIntegers(domain.count);
    let groups = 0;
    for (let i = 0; i < domain.count; i++) group[i] = firstOf(i) === i ? groups++ : group[firstOf(i)];
    context.note(`${domain.count} are in ${groups} ${groups === 1 ? "group" : "groups"}.`);
    return { shape: withElements(shape, elements, { group: makeColumn("integer", [group]) }) };
  },
});
