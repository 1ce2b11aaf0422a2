import { makeColumn } from "../../../geometry/column";
import { placesOf } from "../../../geometry/domains";
import { movedByLattice, restLattice } from "../../../geometry/lattice";
import { defineNode } from "../../define";
import { elementsOf, placedCount, withPlaced } from "../../elements";
import { out, shape } from "../../ports";
import { amountInput } from "./along";

/** Control points that are taken at most: each counts for every place. */
const MOST = 1000;

export const lattice = defineNode({
  type: "lattice",
  family: "form",
  title: "Lattice",
  about:
    "Moves a shape softly with a lattice of a few sites around it: move the sites by anything, and it follows.",
  synonyms: ["cage", "free-form", "ffd", "soft", "deform", "squash", "control points", "grid deform"],
  inputs: {
    shape: shape({ about: "A mesh, curves or clones." }),
    rest: shape({ about: "The lattice as it was: Grid sites around the shape, 2 × 2 × 2 or more." }),
    moved: shape({ about: "The same sites, moved." }),
    amount: amountInput(),
  },
  outputs: { shape: out.shape("The same, moved with the lattice.") },
  cost: ({ shape, rest }) => ({
    milliseconds: placedCount(shape) * (placesOf(rest)?.count ?? 0) * 1e-5,
  }),
  evaluate({ shape, rest, moved, amount }, context) {
    if (!elementsOf(shape, context)) return { shape };
    const [before, now] = [placesOf(rest), placesOf(moved)];
    if (!before || !now || before.count !== now.count || before.count > MOST) {
      context.warn(
        before && now && before.count === now.count
          ? `${before.count} sites are too many for a lattice; ${MOST} are taken at most.`
          : "The lattice has to arrive twice, as it was and moved, with as many sites.",
        { input: before ? "moved" : "rest" },
      );
      return { shape };
    }
    const places = before.columns.position.lanes;
    const stands = restLattice(places);
    if (!stands) {
      context.warn("The sites do not stand in rows along the axes. Take Grid sites, with straight rows.", {
        input: "rest",
      });
      return { shape };
    }
    const made = withPlaced(shape, ({ domain }) => {
      const from = domain.columns.position.lanes;
      const to = movedByLattice(from, stands, places, now.columns.position.lanes);
      const [amounts] = context.run([amount], domain);
      for (let a = 0; a < 3; a++)
        for (let p = 0; p < domain.count; p++) to[a][p] = from[a][p] + (to[a][p] - from[a][p]) * amounts[p];
      return { position: makeColumn("vector", to) };
    });
    return { shape: made };
  },
});
