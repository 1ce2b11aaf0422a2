import { mergeShapes } from "../../geometry/merge";
import { timesTally } from "../../geometry/shape";
import { combine } from "../../volumes/combine";
import { defineNode } from "../define";
import { out, shapes } from "../ports";
import { fine } from "./volumes/input-volume";

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
  evaluate({ shapes }) {
    const shape = mergeShapes(shapes);
    const volumes = shapes.flatMap(({ volume }) => (volume ? [volume] : []));
    if (volumes.length < 2) return { shape };
    return {
      shape: {
        ...shape,
        volume: fine(() => volumes.reduce((all, one) => combine("union", all, one, 0)), "shapes"),
      },
    };
  },
});
