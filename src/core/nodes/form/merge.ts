import { mergeShapes } from "../../geometry/merge";
import { timesTally } from "../../geometry/shape";
import { defineNode } from "../define";
import { out, shapes } from "../ports";

export const merge = defineNode({
  type: "merge",
  family: "form",
  title: "Merge",
  about: "Several shapes as one.",
  synonyms: ["join", "combine", "union", "together", "group", "append"],
  inputs: { shapes: shapes({ about: "Link as many as you like." }) },
  keepsHandles: true,
  outputs: { shape: out.shape("All of them.") },
  cost: ({ shapes }) => timesTally(shapes, 1),
  evaluate: ({ shapes }) => ({ shape: mergeShapes(shapes) }),
});
