import type { Value, VectorField } from "../../../fields/expression";
import { withKin } from "../../../geometry/across";
import type { Shape } from "../../../geometry/shape";
import type { Volume } from "../../../geometry/volume";
import { greatestOf } from "../../../kernels/statistics";
import { movedVolume } from "../../../volumes/moved";
import { asDensity, filled, grown, hollowed, sharpened, smoothed, thinned } from "../../../volumes/reshape";
import { defineNode, type NodeContext } from "../../define";
import { choice, field, integer, out, shape } from "../../ports";
import { distancesOf, fine, volumeOf } from "./input-volume";

const DO = ["grow", "hollow", "smooth", "sharpen", "fill", "move", "as density", "thin"] as const;

export const reshapeVolume = defineNode({
  type: "reshape-volume",
  family: "form",
  title: "Reshape volume",
  about:
    "Grows, hollows, smooths, sharpens, fills or moves a volume, or makes it a density, by fields if you like.",
  synonyms: [
    "offset",
    "dilate",
    "erode",
    "shell",
    "hollow",
    "smooth",
    "noise",
    "inflate",
    "shrink",
    "dent",
    "sharpen",
    "fog",
    "mask",
    "warp",
  ],
  inputs: {
    shape: shape({ about: "A volume." }),
    do: choice(DO, {
      about:
        "Move its surface outwards, take out what lies deep, even it out or the opposite, close its hollows, move it by a field; make a density of it, or thin that out.",
    }),
    amount: field.number({
      default: 0.1,
      soft: [-0.5, 0.5],
      unit: "units",
      shownWhen: { input: "do", is: ["grow"] },
      about: "How far the surface moves outwards; below 0 inwards. Link a noise here.",
    }),
    thickness: field.number({
      default: 0.15,
      min: 0,
      soft: [0.01, 1],
      unit: "units",
      shownWhen: { input: "do", is: ["hollow"] },
      about: "Of the wall that is left.",
    }),
    rounds: integer({
      default: 4,
      min: 0,
      max: 100,
      soft: [0, 20],
      shownWhen: { input: "do", is: ["smooth", "sharpen"] },
      about: "How often; how wide what stands out is.",
    }),
    by: field.vector({
      default: [0, 0, 0],
      soft: [-1, 1],
      unit: "units",
      shownWhen: { input: "do", is: ["move"] },
      about: "From where it was to where it comes, read where it comes. Link a turning or a swirl.",
    }),
    depth: field.number({
      default: 0.2,
      min: 0,
      soft: [0, 1],
      unit: "units",
      shownWhen: { input: "do", is: ["as density"] },
      about: "How deep inside the density is 1; it begins with 0 at the surface. At 0 all of it is 1.",
    }),
    share: field.number({
      default: 1,
      min: 0,
      soft: [0, 1],
      shownWhen: { input: "do", is: ["smooth", "sharpen", "thin"] },
      about: "How much of it, at each place.",
    }),
  },
  outputs: { shape: out.shape("The volume, reshaped.") },
  summary: (set) => String(set.do),
  cost: ({ shape, do: what, rounds }) => ({
    bytes: (shape.volume?.voxels.count ?? 0) * 8,
    milliseconds:
      (shape.volume?.voxels.count ?? 0) *
      0.00004 *
      (1 + (what === "smooth" || what === "sharpen" ? rounds : 4)),
  }),
  evaluate(inputs, context) {
    const made = reshaped(inputs, context);
    return { shape: made ? { ...inputs.shape, volume: made } : inputs.shape };
  },
});

interface Inputs {
  readonly shape: Shape;
  readonly do: (typeof DO)[number];
  readonly amount: Value;
  readonly thickness: Value;
  readonly rounds: number;
  readonly by: VectorField;
  readonly depth: Value;
  readonly share: Value;
}

/** Null where nothing can be done; it has been said why. */
function reshaped(inputs: Inputs, context: NodeContext): Volume | null {
  const { shape, do: what, rounds, by } = inputs;
  if (what === "thin") {
    const volume = volumeOf(shape, what, context);
    if (volume?.voxels.columns.distance)
      context.warn("Distances arrive, and only densities are thinned. Make a density of it first.", {
        input: "do",
        repair: { label: "As density", input: "do", value: "as density" },
      });
    return volume?.voxels.columns.density ? thinned(volume, onVoxels(inputs.share, volume, context)) : null;
  }
  if (what === "move") {
    const volume = volumeOf(shape, what, context);
    return volume && fine(() => movedVolume(volume, (domain) => context.run(by, domain)), "by");
  }
  const volume = distancesOf(shape, what, 0, context);
  if (!volume) return null;
  if (what === "fill") return fine(() => filled(volume), "shape");
  if (what === "smooth") return smoothed(volume, rounds, onVoxels(inputs.share, volume, context));
  if (what === "sharpen") return sharpened(volume, rounds, onVoxels(inputs.share, volume, context));
  const value = what === "grow" ? inputs.amount : what === "hollow" ? inputs.thickness : inputs.depth;
  const first = onVoxels(value, volume, context);
  // What is moved farther than distances are told has to be told farther first.
  const told = distancesOf(shape, what, greatestOf([first]) + 2 * volume.voxel, context);
  if (!told) return null;
  const values = told === volume ? first : onVoxels(value, told, context);
  return CHANGES[what](told, values);
}

const CHANGES = { grow: grown, hollow: hollowed, "as density": asDensity };

/** What a field says at each voxel. */
const onVoxels = (value: Value, volume: Volume, context: NodeContext): Float32Array =>
  context.run([value], withKin({ volume }, "voxels"))[0];
