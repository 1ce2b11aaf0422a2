import { divide, scaleBy, type VectorField } from "../../../fields/expression";
import { forceOf } from "../../../particles/forces";
import { defineNode } from "../../define";
import { field, out } from "../../ports";

export const push = defineNode({
  type: "push",
  family: "simulate",
  title: "Push",
  about: "A force by any vector field, on particles that may weigh more or less.",
  synonyms: ["force", "field force", "acceleration", "custom force", "thrust", "mass"],
  inputs: {
    push: field.vector({
      default: [0, 1, 0],
      soft: [-10, 10],
      about: "Units a second², on a mass of 1. It may read `age`, `aged`, `velocity` and what they carry.",
    }),
    amount: field.number({ default: 1, soft: [0, 2], about: "Times all of it." }),
    mass: field.number({
      default: 1,
      min: 0.001,
      soft: [0.1, 10],
      about: "Twice the mass, half the effect. What has none is not pushed.",
    }),
  },
  outputs: { force: out.force("For Particles.") },
  evaluate: ({ push, amount, mass }) => ({
    force: forceOf("push", "Push", {
      push: push.map((value) => divide(scaleBy(value, amount), mass)) as unknown as VectorField,
    }),
  }),
});
