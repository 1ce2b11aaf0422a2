import type { NumberField } from "../../fields/expression";
import { overshootOf } from "../../maths/spring";
import { defineNode } from "../define";
import { field, number, out } from "../ports";
import { FOLLOWING, type Followed, firstOf, followedShape, steppingOf } from "./followed";

interface Inputs extends Followed {
  readonly stiffness: NumberField;
  readonly damping: NumberField;
  readonly mass: number;
}

export const spring = defineNode({
  type: "spring",
  family: "simulate",
  title: "Spring",
  about: "Lets clones follow what arrives on springs: late, beyond it and back, until they settle.",
  synonyms: ["bounce", "overshoot", "wobble", "jiggle", "secondary motion", "elastic", "settle", "follow"],
  inputs: {
    ...FOLLOWING,
    stiffness: field.number({
      default: 120,
      min: 0,
      soft: [5, 400],
      about: "The pull, a unit of mass and of distance: more is quicker.",
    }),
    damping: field.number({
      default: 0.35,
      min: 0,
      soft: [0, 1.5],
      about: "0 swings for ever, below 1 it overshoots, from 1 on it only settles.",
    }),
    mass: number({ default: 1, min: 0.001, soft: [0.1, 10], about: "More is slower." }),
  },
  outputs: {
    shape: out.shape("The same, on its springs; `velocity` is how fast each place moves, units a second."),
  },
  summary: ({ stiffness, damping }) => `stiffness ${stiffness}, damping ${damping}`,
  stepping: steppingOf<Inputs>((inputs, lanes, seconds) => {
    const [stiffness, damping] = [lanes(inputs.stiffness), lanes(inputs.damping)];
    return {
      planes: 5,
      prepare(plan, steps) {
        plan.calls.push({
          kernel: "springSteps",
          operands: [steps, plan.read(stiffness), plan.read(damping)],
          numbers: [inputs.mass, seconds],
        });
      },
      move(plan, { place, speed, now, rate, was, target }, steps) {
        const operands = [place, speed, now, rate, was, target, steps];
        plan.calls.push({ kernel: "sprung", operands, numbers: [seconds] });
      },
    };
  }),
  evaluate(inputs, context) {
    const shape = followedShape(inputs, context);
    const [stiffness, damping] = [firstOf(inputs, inputs.stiffness), firstOf(inputs, inputs.damping)];
    if (stiffness !== undefined && damping !== undefined) tell(stiffness, damping, inputs.mass, context);
    return { shape };
  },
});

/** How it swings, of the first element. */
function tell(
  stiffness: number,
  damping: number,
  mass: number,
  context: { warn(what: string, details?: { input?: string }): void; note(what: string): void },
): void {
  if (stiffness <= 0) {
    context.warn('"stiffness" is 0, so nothing pulls and everything stays where it began.', {
      input: "stiffness",
    });
    return;
  }
  if (damping <= 0) context.warn('"damping" is 0, so it never settles.', { input: "damping" });
  const swings = Math.sqrt(stiffness / mass) / (2 * Math.PI);
  const over = Math.round(overshootOf(Math.max(0, damping)) * 100);
  context.note(
    over > 0
      ? `It overshoots by ${over} % and swings ${swings.toPrecision(2)} times a second.`
      : "It does not overshoot.",
  );
}
