import { apply, constant } from "../../../fields/expression";
import { evenly } from "../../../fields/vector-fields";
import { dragging } from "../../../particles/forces";
import { defineNode } from "../../define";
import { field, out } from "../../ports";

export const drag = defineNode({
  type: "drag",
  family: "simulate",
  title: "Drag",
  about: "Slows particles down: thick air, water, honey. With a force it settles how fast they end up.",
  synonyms: ["damping", "friction", "air resistance", "slow down", "viscosity", "brake"],
  inputs: {
    linear: field.number({
      default: 0.5,
      min: 0,
      soft: [0, 15],
      about: "What part of its speed each loses a second, nearly.",
    }),
    quadratic: field.number({
      default: 0,
      min: 0,
      soft: [0, 2],
      about: "The same for each unit of speed: slows what is fast, leaves what is slow.",
    }),
  },
  outputs: { force: out.force("For Particles.") },
  summary: ({ linear }) => `${linear} a second`,
  evaluate: ({ linear, quadratic }) => {
    const atLeast0 = (value: typeof linear) => apply("maximum", [value, constant(0)]);
    return { force: dragging("Drag", atLeast0(linear), atLeast0(quadratic), evenly([0, 0, 0])) };
  },
});
