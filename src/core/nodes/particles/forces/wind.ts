import { constant } from "../../../fields/expression";
import { dragging } from "../../../particles/forces";
import { defineNode } from "../../define";
import { field, out } from "../../ports";

export const wind = defineNode({
  type: "wind",
  family: "simulate",
  title: "Wind",
  about:
    "Air that moves, everywhere alike or by a field, and takes particles along the more the better it grips.",
  synonyms: ["air", "breeze", "gust", "follow a flow", "stream", "current", "drift"],
  inputs: {
    velocity: field.vector({
      default: [1, 0, 0],
      soft: [-5, 5],
      about: "Units a second; link Swirl or any other field.",
    }),
    grip: field.number({
      default: 2,
      min: 0,
      soft: [0, 15],
      about:
        "How soon they go with it: 2 closes half of what is between in a third of a second. A push that is stronger than grip times speed leads out of the stream.",
    }),
  },
  outputs: { force: out.force("For Particles.") },
  summary: ({ grip }) => `grips by ${grip}`,
  evaluate: ({ velocity, grip }) => ({ force: dragging("Wind", grip, constant(0), velocity) }),
});
