import { constant, vectorLength } from "../../../fields/expression";
import { direction, either, isLess, timesEach } from "../../../fields/vector-fields";
import { dragging, velocityField } from "../../../particles/forces";
import { defineNode } from "../../define";
import { field, out } from "../../ports";

export const matchSpeed = defineNode({
  type: "match-speed",
  family: "simulate",
  title: "Match speed",
  about: "Brings particles to a set speed, the way that they go or along a field.",
  synonyms: ["constant speed", "cruise", "even speed", "keep moving", "steer"],
  inputs: {
    speed: field.number({ default: 1, min: 0, soft: [0, 5], about: "Units a second." }),
    along: field.vector({
      default: [0, 0, 0],
      soft: [-1, 1],
      unit: "",
      about: "Which way; the way that each goes where this is 0.",
    }),
    grip: field.number({ default: 4, min: 0, soft: [0, 15], about: "How soon." }),
  },
  outputs: { force: out.force("For Particles.") },
  summary: ({ speed }) => `${speed} units a second`,
  evaluate({ speed, along, grip }) {
    const isSaid = isLess(constant(1e-6), vectorLength(along));
    const way = either(direction(velocityField()), direction(along), isSaid);
    return { force: dragging("Match speed", grip, constant(0), timesEach(way, speed)) };
  },
});
