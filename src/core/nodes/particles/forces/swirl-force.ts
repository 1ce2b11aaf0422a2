import type { VectorField } from "../../../fields/expression";
import { applyAll, positionField } from "../../../fields/expression";
import { timesEach } from "../../../fields/vector-fields";
import { hash3 } from "../../../maths/random";
import { forceOf } from "../../../particles/forces";
import { defineNode } from "../../define";
import { latticeTime, layerInputs, sizedPlace, timeInputs } from "../../drive/lattice-inputs";
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
  evaluate({ strength, size, octaves, roughness, lacunarity, speed, loop, seed }, context) {
    const at = sizedPlace(positionField(), size, "eddies");
    const seeds = [0, 1, 2].map((channel) => hash3(context.seed, seed, channel));
    const options = { octaves, roughness, lacunarity, ...latticeTime(context, speed, loop) };
    const flow = applyAll("swirl", at, { key: JSON.stringify([seeds, options]), seeds, ...options });
    return {
      force: forceOf("push", "Swirl force", { push: timesEach(flow as unknown as VectorField, strength) }),
    };
  },
});
