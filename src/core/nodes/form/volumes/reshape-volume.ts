import { withKin } from "../../../geometry/across";
import { greatestOf } from "../../../kernels/statistics";
import { grown, hollowed, smoothed } from "../../../volumes/reshape";
import { defineNode } from "../../define";
import { choice, field, integer, out, shape } from "../../ports";
import { distancesOf } from "./input-volume";

const DO = ["grow", "hollow", "smooth"] as const;

export const reshapeVolume = defineNode({
  type: "reshape-volume",
  family: "form",
  title: "Reshape volume",
  about: "Grows or shrinks a volume, dents it by a noise, hollows it or smooths it, by a field if you like.",
  synonyms: ["offset", "dilate", "erode", "shell", "hollow", "smooth", "noise", "inflate", "shrink", "dent"],
  inputs: {
    shape: shape({ about: "A volume." }),
    do: choice(DO, { about: "Move its surface outwards, take out what lies deep, or even it out." }),
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
      shownWhen: { input: "do", is: ["smooth"] },
      about: "How often.",
    }),
    share: field.number({
      default: 1,
      min: 0,
      max: 1,
      soft: [0, 1],
      shownWhen: { input: "do", is: ["smooth"] },
      about: "How much of it, at each place.",
    }),
  },
  outputs: { shape: out.shape("The volume, reshaped.") },
  summary: (set) => String(set.do),
  cost: ({ shape, rounds }) => ({
    bytes: (shape.volume?.voxels.count ?? 0) * 8,
    milliseconds: (shape.volume?.voxels.count ?? 0) * 0.00004 * (1 + rounds),
  }),
  evaluate(inputs, context) {
    const { shape, do: what, amount, thickness, rounds, share } = inputs;
    const volume = distancesOf(shape, what, 0, context);
    if (!volume) return { shape };
    const domain = withKin({ volume }, "voxels");
    if (what === "smooth") {
      const [shares] = context.run([share], domain);
      return { shape: { ...shape, volume: smoothed(volume, rounds, shares) } };
    }
    const value = what === "grow" ? amount : thickness;
    const [first] = context.run([value], domain);
    // What is moved farther than distances are told has to be told farther first.
    const told = distancesOf(shape, what, greatestOf([first]) + 2 * volume.voxel, context);
    if (!told) return { shape };
    const [values] = told === volume ? [first] : context.run([value], withKin({ volume: told }, "voxels"));
    return { shape: { ...shape, volume: what === "grow" ? grown(told, values) : hollowed(told, values) } };
  },
});
