import { add, applyAll, positionField, scaleBy, type VectorField } from "../../../fields/expression";
import { freshKey } from "../../../fields/fresh-key";
import { placesOf } from "../../../geometry/domains";
import { latticeTable, restLattice } from "../../../geometry/lattice";
import { defineNode } from "../../define";
import { elementsOf, placedCount } from "../../elements";
import { out, shape } from "../../ports";
import { amountInput, deformed } from "./along";

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
  keepsHandles: true,
  outputs: { shape: out.shape("The same, moved with the lattice.") },
  cost: ({ shape, rest }) => ({
    milliseconds: placedCount(shape) * (placesOf(rest)?.count ?? 0) * 1e-6,
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
    const shifts = applyAll("latticeShift", positionField(), {
      key: freshKey(),
      table: latticeTable(stands, places, now.columns.position.lanes),
      rows: stands.counts[0] + stands.counts[1] + stands.counts[2],
    });
    const position = positionField().map((p, a) =>
      add(p, scaleBy(shifts[a], amount)),
    ) as unknown as VectorField;
    return { shape: deformed(shape, { position }, context) };
  },
});
