import type { NumberField } from "../../fields/expression";
import { defineNode } from "../define";
import { field, out } from "../ports";
import { FOLLOWING, type Followed, followedShape, steppingOf } from "./followed";

interface Inputs extends Followed {
  readonly half: NumberField;
}

export const lag = defineNode({
  type: "lag",
  family: "simulate",
  title: "Lag",
  about: "Lets clones follow what arrives late and softly, without ever going beyond it.",
  synonyms: [
    "delay",
    "smooth the movement",
    "soften in time",
    "ease",
    "follow",
    "drag behind",
    "overlap",
    "inertia",
  ],
  inputs: {
    ...FOLLOWING,
    half: field.number({
      default: 0.15,
      min: 0,
      soft: [0, 1],
      unit: "s",
      about: "Seconds in which it comes half of the way nearer; 0 follows at once.",
    }),
  },
  outputs: {
    shape: out.shape("The same, following; `velocity` is how fast each place moves, units a second."),
  },
  summary: ({ half }) => `half-way in ${half} s`,
  stepping: steppingOf<Inputs>((inputs, lanes, seconds) => {
    const half = lanes(inputs.half);
    return {
      planes: 2,
      prepare(plan, steps) {
        plan.calls.push({ kernel: "lagSteps", operands: [steps, plan.read(half)], numbers: [seconds] });
      },
      move(plan, { place, speed, now, was, target }, steps) {
        const operands = [place, speed, now, was, target, steps];
        plan.calls.push({ kernel: "lagged", operands, numbers: [seconds] });
      },
    };
  }),
  evaluate: (inputs, context) => ({ shape: followedShape(inputs, context) }),
});
