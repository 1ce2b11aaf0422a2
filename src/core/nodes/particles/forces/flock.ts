import { forceOf } from "../../../particles/forces";
import { defineNode } from "../../define";
import { angle, field, length, out } from "../../ports";

export const flock = defineNode({
  type: "flock",
  family: "simulate",
  title: "Flock",
  about: "Particles mind each other: keep apart, go the same way, stay together.",
  synonyms: [
    "boids",
    "swarm",
    "separation",
    "alignment",
    "cohesion",
    "birds",
    "fish",
    "bees",
    "neighbours",
    "crowd",
  ],
  inputs: {
    radius: length({ default: 0.6, min: 0.001, soft: [0.1, 3], about: "How far each sees." }),
    sight: angle({
      default: 270,
      min: 0,
      max: 360,
      soft: [0, 360],
      about: "How wide, about the way that it goes.",
    }),
    apart: field.number({
      default: 4,
      soft: [0, 20],
      about: "Away from those that are near, the nearer the more.",
    }),
    along: field.number({ default: 2, soft: [0, 10], about: "To the mean speed of the others." }),
    together: field.number({ default: 1.5, soft: [0, 10], about: "To the middle of the others." }),
  },
  outputs: { force: out.force("For Particles.") },
  summary: ({ radius }) => `within ${radius} units`,
  evaluate: ({ radius, sight, apart, along, together }) => ({
    force: forceOf(
      "flock",
      "Flock",
      { apart: [apart], along: [along], together: [together] },
      { radius, sight },
    ),
  }),
});
