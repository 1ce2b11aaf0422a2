import { EMPTY_SHAPE } from "../../../geometry/shape";
import type { Volume } from "../../../geometry/volume";
import { COMBINATIONS, combine } from "../../../volumes/combine";
import { defineNode } from "../../define";
import { choice, length, out, shapes } from "../../ports";
import { distancesOf, fine } from "./input-volume";

export const meltTogether = defineNode({
  type: "melt-together",
  family: "form",
  title: "Melt together",
  about:
    "Volumes as one, sharply or melted into one another: added, what they share, or the first without the others.",
  synonyms: [
    "smooth union",
    "blend",
    "metaballs",
    "boolean",
    "subtract",
    "intersect",
    "merge volumes",
    "blob",
  ],
  inputs: {
    shapes: shapes({ about: "Volumes, in the order in which they are linked." }),
    how: choice(COMBINATIONS, { about: "All of them, what they share, or the first without the others." }),
    soft: length({
      default: 0.25,
      min: 0,
      soft: [0, 1],
      about: "How far apart surfaces begin to melt; 0 leaves sharp edges.",
    }),
  },
  outputs: { shape: out.shape("One volume, of the first one's voxels; colours flow where they melt.") },
  summary: ({ how, soft }) => `${how}, soft by ${soft}`,
  cost: ({ shapes }) => ({
    bytes: shapes.reduce((sum, { volume }) => sum + (volume?.voxels.count ?? 0) * 8, 0),
    milliseconds: shapes.reduce((sum, { volume }) => sum + (volume?.voxels.count ?? 0) * 0.0002, 0),
  }),
  evaluate({ shapes, how, soft }, context) {
    const found: Volume[] = [];
    for (const shape of shapes) {
      const volume = distancesOf(shape, "melt", soft, context, "shapes");
      if (volume) found.push(volume);
    }
    if (found.length === 0) return { shape: EMPTY_SHAPE };
    const volume = fine(() => found.reduce((all, one) => combine(how, all, one, soft)), "shapes");
    return { shape: { volume } };
  },
});
