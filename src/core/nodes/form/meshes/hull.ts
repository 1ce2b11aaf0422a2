import { concatenate } from "../../../geometry/column";
import { domainsOf, PLACED } from "../../../geometry/domains";
import { EMPTY_SHAPE } from "../../../geometry/shape";
import { hullOf } from "../../../solids/hull";
import { SOLIDS } from "../../../solids/solid";
import { defineNode } from "../../define";
import { out, shape } from "../../ports";

export const hull = defineNode({
  type: "hull",
  family: "form",
  title: "Hull",
  about:
    "The tightest skin without hollows around all points: as if a sheet of rubber were drawn around them.",
  synonyms: ["convex", "wrap", "envelope", "rubber band", "shrink wrap", "gem", "stone"],
  inputs: { shape: shape({ about: "Sites, a mesh or curves." }) },
  outputs: { shape: out.shape("The hull, in triangles.") },
  needs: [SOLIDS],
  cost: ({ shape }) => ({
    milliseconds: ((shape.mesh?.points.count ?? 0) + (shape.sites?.count ?? 0)) * 0.004,
  }),
  evaluate({ shape }, context) {
    const domains = [...domainsOf(shape)].filter(([name]) => (PLACED as readonly string[]).includes(name));
    const places = domains.map(([, { count, columns }]) => ({
      count,
      columns: { position: columns.position },
    }));
    const all = concatenate(places);
    if (places.length === 0 || all.count === 0) {
      context.warn("Nothing arrives, so there is nothing to put a hull around.", { input: "shape" });
      return { shape: EMPTY_SHAPE };
    }
    const made = hullOf(all.columns.position.lanes);
    if (!made.mesh) context.warn("All points lie in one plane, so they have no hull.", { input: "shape" });
    return { shape: made };
  },
});
