import { EMPTY_SHAPE } from "../../../geometry/shape";
import { TILE_VOXELS, type Volume } from "../../../geometry/volume";
import { COMBINATIONS, combine } from "../../../volumes/combine";
import { blendedVolumes } from "../../../volumes/moved";
import { defineNode } from "../../define";
import { choice, field, length, out, shapes } from "../../ports";
import { distancesOf, fine } from "./input-volume";

const BLEND = "a blend";
const HOW = [...COMBINATIONS, BLEND] as const;

export const meltTogether = defineNode({
  type: "melt-together",
  family: "form",
  title: "Melt together",
  about:
    "Volumes as one, sharply or melted into one another: added, what they share, the first without the others, or one on its way to the other.",
  synonyms: [
    "smooth union",
    "blend",
    "metaballs",
    "boolean",
    "subtract",
    "intersect",
    "merge volumes",
    "blob",
    "morph",
  ],
  inputs: {
    shapes: shapes({ about: "Volumes, in the order in which they are linked." }),
    how: choice(HOW, {
      about:
        "All of them, what they share, the first without the others, or on the way from the first to the second.",
    }),
    amount: field.number({
      default: 0.5,
      soft: [0, 1],
      shownWhen: { input: "how", is: [BLEND] },
      about: "0 is the first, 1 the second; at each place, if a field is linked.",
    }),
    soft: length({
      default: 0.25,
      min: 0,
      soft: [0, 1],
      shownWhen: { input: "how", is: [...COMBINATIONS] },
      about: "How far apart surfaces begin to melt; 0 leaves sharp edges.",
    }),
  },
  outputs: { shape: out.shape("One volume, of the first one's voxels; colours flow where they melt.") },
  summary: ({ how, soft }) => (how === BLEND ? BLEND : `${how}, soft by ${soft}`),
  cost({ shapes, how }) {
    const told = shapes.reduce((sum, { volume }) => sum + (volume?.voxels.count ?? 0), 0);
    // A blend works out every voxel of the box around both, and how far it is from either.
    const voxels = how === BLEND ? shapes.reduce((sum, { volume }) => sum + boxOf(volume), 0) : told;
    return { bytes: voxels * 8, milliseconds: voxels * (how === BLEND ? 0.002 : 0.0002) };
  },
  evaluate({ shapes, how, soft, amount }, context) {
    const found: Volume[] = [];
    for (const shape of shapes) {
      const volume = distancesOf(shape, "melt", soft, context, "shapes");
      if (volume) found.push(volume);
    }
    if (found.length === 0) return { shape: EMPTY_SHAPE };
    if (how === BLEND) {
      if (found.length !== 2)
        context.warn(`A blend goes from one volume to another, and ${found.length} arrive.`, {
          input: "shapes",
        });
      if (found.length < 2) return { shape: { volume: found[0] } };
      const blend = () => blendedVolumes(found[0], found[1], (domain) => context.run([amount], domain));
      const made = fine(blend, "shapes");
      return { shape: made ? { volume: made } : EMPTY_SHAPE };
    }
    const volume = fine(() => found.reduce((all, one) => combine(how, all, one, soft)), "shapes");
    return { shape: { volume } };
  },
});

/** Voxels of the box of a volume, whether they are stored or not. */
const boxOf = (volume: Volume | undefined): number => (volume ? volume.table.length * TILE_VOXELS : 0);
