import { apply, constant, divide, vectorLength } from "../../../fields/expression";
import { timesEach } from "../../../fields/vector-fields";
import { limiting, velocityField } from "../../../particles/forces";
import { defineNode } from "../../define";
import { field, out } from "../../ports";

export const speedLimit = defineNode({
  type: "speed-limit",
  family: "simulate",
  title: "Speed limit",
  about: "Nothing goes faster, and nothing slower if you like.",
  synonyms: ["clamp speed", "maximum speed", "slowest", "fastest", "cap"],
  inputs: {
    most: field.number({ default: 2, min: 0, soft: [0, 10], about: "Units a second at most." }),
    least: field.number({
      default: 0,
      min: 0,
      soft: [0, 5],
      about: "Units a second at least; what stands still stays so.",
    }),
  },
  outputs: { force: out.force("For Particles.") },
  summary: ({ most }) => `${most} units a second`,
  evaluate({ most, least }) {
    const velocity = velocityField();
    const speed = vectorLength(velocity);
    const wanted = apply("maximum", [apply("minimum", [speed, most]), apply("minimum", [least, most])]);
    const isMoving = apply("less", [constant(0), speed]);
    const times = apply("select", [constant(1), divide(wanted, speed), isMoving]);
    return { force: limiting("Speed limit", { velocity: timesEach(velocity, times) }) };
  },
});
