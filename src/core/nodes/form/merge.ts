import { mergeShapes } from "../../geometry/merge";
import { defineNode } from "../define";
import { out, shapes } from "../ports";

export const merge = defineNode({
  type: "merge",
  family: "form",
  title: "Merge",
  about: "Several shapes as one.",
  synonyms: ["join", "combine", "union", "together", "group", "append"],
  inputs: { shapes: shapes({ about: "Link as many as you like." }) },
  outputs: { shape: out.shape("All of them.") },
  cost: ({ shapes }) => ({
    sites: shapes.reduce((sum, s) => sum + (s.sites?.count ?? 0), 0),
    points: shapes.reduce((sum, s) => sum + (s.mesh?.points.count ?? 0), 0),
  }),
  evaluate: ({ shapes }) => ({ shape: mergeShapes(shapes) }),
});
