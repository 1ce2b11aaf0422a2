import { defineNode } from "../define";
import { field, out } from "../ports";

export const joinVector = defineNode({
  type: "join-vector",
  family: "drive",
  title: "Join vector",
  about: "A vector from three numbers.",
  synonyms: ["combine", "xyz", "make vector"],
  inputs: {
    x: field.number({ default: 0, soft: [-10, 10], about: "Along X." }),
    y: field.number({ default: 0, soft: [-10, 10], about: "Along Y." }),
    z: field.number({ default: 0, soft: [-10, 10], about: "Along Z." }),
  },
  outputs: { vector: out.vector("The three together.") },
  evaluate: ({ x, y, z }) => ({ vector: [x, y, z] as const }),
});
