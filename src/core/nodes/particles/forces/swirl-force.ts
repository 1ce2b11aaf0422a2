import { positionField } from "../../../fields/expression";
import { forceOf } from "../../../particles/forces";
import { defineNode } from "../../define";
import { layerInputs, swirlFlow, timeInputs } from "../../drive/lattice-inputs";
import { field, length, out } from "../../ports";

export const swirlForce = defineNode({
  type: "swirl-force",
  family: "simulate",
  title: "Swirl force",
  about: "Pushes particles about in eddies that never bunch them up.",
  synonyms: ["turbulence", "curl", "eddies", "noise force", "drift", "vortex", "chaos"],
  inputs: {
    strength: field.number({ default: 2, soft: [0, 10], about: "Units a second²." }),
    size: length({ default: 1.5, min: 0, soft: [0.2, 8], about: "Distance from one eddy to the next." }),
    ...layerInputs,
    ...timeInputs("eddies"),
  },
  outputs: { force: out.force("For Particles.") },
  summary: ({ strength, size }) => `${strength} in eddies of ${size}`,
  evaluate: (eddies, context) => ({
    force: forceOf("push", "Swirl force", { push: swirlFlow(positionField(), eddies, context) }),
  }),
});
