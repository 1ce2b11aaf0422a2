import { defineNode } from "../define";
import { field, out } from "../ports";
import { layerInputs, placeInputs, swirlFlow, timeInputs } from "./lattice-inputs";

export const swirl = defineNode({
  type: "swirl",
  family: "drive",
  title: "Swirl",
  about: "A flow that turns and never bunches up or thins out: what follows it stays evenly spread.",
  synonyms: [
    "curl noise",
    "divergence free",
    "flow field",
    "eddies",
    "turbulence",
    "vortex",
    "stir",
    "smoke like",
  ],
  inputs: {
    ...placeInputs("Distance from one eddy to the next."),
    strength: field.number({ default: 1, soft: [0, 4], about: "Times the flow." }),
    ...layerInputs,
    ...timeInputs("eddies"),
  },
  outputs: { flow: out.vector("Which way it flows here, and how strongly.") },
  summary: ({ size, octaves }) => `${size} units wide${octaves === 1 ? "" : `, ${octaves} layers`}`,
  evaluate: ({ place, ...eddies }, context) => ({ flow: swirlFlow(place, eddies, context) }),
});
