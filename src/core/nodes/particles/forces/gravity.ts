import { forceOf } from "../../../particles/forces";
import { defineNode } from "../../define";
import { field, out } from "../../ports";

export const gravity = defineNode({
  type: "gravity",
  family: "simulate",
  title: "Gravity",
  about: "Pulls particles one way, all alike whatever they weigh.",
  synonyms: ["fall", "weight", "down", "pull", "drop"],
  inputs: {
    pull: field.vector({
      default: [0, -1, 0],
      soft: [-10, 10],
      about: "Units a second²; 9.8 is what stones have where a unit is a metre.",
    }),
  },
  outputs: { force: out.force("For Particles.") },
  evaluate: ({ pull }) => ({ force: forceOf("push", "Gravity", { push: pull }) }),
});
