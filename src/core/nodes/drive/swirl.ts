import { applyAll, scaleBy, type VectorField } from "../../fields/expression";
import { hash3 } from "../../maths/random";
import { defineNode } from "../define";
import { field, out } from "../ports";
import { latticeTime, layerInputs, placeInputs, sizedPlace, timeInputs } from "./lattice-inputs";

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
  evaluate({ place, size, strength, octaves, roughness, lacunarity, speed, loop, seed }, context) {
    const at = sizedPlace(place, size, "eddies");
    const seeds = [0, 1, 2].map((channel) => hash3(context.seed, seed, channel));
    const options = { octaves, roughness, lacunarity, ...latticeTime(context, speed, loop) };
    const flow = applyAll("swirl", at, { key: JSON.stringify([seeds, options]), seeds, ...options });
    return { flow: flow.map((value) => scaleBy(value, strength)) as unknown as VectorField };
  },
});
