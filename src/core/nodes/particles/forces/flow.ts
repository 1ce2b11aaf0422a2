import { timesEach } from "../../../fields/vector-fields";
import { forceOf } from "../../../particles/forces";
import { defineNode } from "../../define";
import { field, out } from "../../ports";

export const flow = defineNode({
  type: "flow",
  family: "simulate",
  title: "Flow",
  about: "Carries particles along a field exactly, without any weight: they never leave the stream.",
  synonyms: ["advect", "stream", "follow field", "vector field", "carried", "streamline", "sap", "river"],
  inputs: {
    along: field.vector({ default: [1, 0, 0], soft: [-5, 5], about: "Which way it flows, units a second." }),
    speed: field.number({ default: 1, soft: [0, 4], unit: "×", about: "Times that." }),
  },
  outputs: { force: out.force("For Particles.") },
  evaluate: ({ along, speed }) => ({ force: forceOf("flow", "Flow", { flow: timesEach(along, speed) }) }),
});
