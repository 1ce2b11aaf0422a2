import { constant, type NumberField, plainNumber } from "../../fields/expression";
import { laggedPlace, lagLeft, springStep, sprungPlace, sprungSpeed } from "../../maths/spring";
import type { State, Stepping } from "../../simulate/state";
import { defineNode, type NodeContext, NodeError } from "../define";
import { choice, field, number, out } from "../ports";
import { runUpInput } from "./step-inputs";

interface Inputs {
  readonly value: NumberField;
  readonly how: string;
  readonly stiffness: number;
  readonly damping: number;
  readonly half: number;
}

/** One number on its way: where it is, how fast (a second), and where it was to go. */
interface Way extends State {
  readonly numbers: { readonly way: readonly [now: number, speed: number, target: number] };
}

const wayOf = (now: number, speed: number, target: number): Way => ({
  numbers: { way: [now, speed, target] },
});

const stepping: Stepping<Inputs, Way> = {
  runUp: "runUp",
  start(at) {
    const target = numberOf(at);
    return wayOf(target, 0, target);
  },
  step(before, at, { seconds }) {
    const target = numberOf(at);
    return at.how === "lag"
      ? lagged(before, target, at.half, seconds)
      : sprung(before, target, at.stiffness, at.damping, seconds);
  },
};

export const springValue = defineNode({
  type: "spring-value",
  family: "simulate",
  title: "Spring a value",
  about: "Lets one number follow what arrives late: on a spring, or softly without going beyond it.",
  synonyms: ["smooth a number", "lag", "overshoot", "follow", "ease a dial", "inertia", "bounce"],
  inputs: {
    value: field.number({
      default: 0,
      soft: [-10, 10],
      about: "What is followed: keys, a clock, a wave; the same for all elements.",
    }),
    how: choice(["spring", "lag"], { about: "Beyond it and back, or only nearer." }),
    stiffness: number({
      default: 120,
      min: 0,
      soft: [5, 400],
      shownWhen: { input: "how", is: ["spring"] },
      about: "The pull: more is quicker.",
    }),
    damping: number({
      default: 0.35,
      min: 0,
      soft: [0, 1.5],
      shownWhen: { input: "how", is: ["spring"] },
      about: "Below 1 it overshoots, from 1 on it only settles.",
    }),
    half: number({
      default: 0.15,
      min: 0,
      soft: [0, 1],
      unit: "s",
      shownWhen: { input: "how", is: ["lag"] },
      about: "Seconds in which it comes half of the way nearer; 0 follows at once.",
    }),
    runUp: runUpInput("Frames worked out before the first, so that motion is under way there."),
  },
  outputs: {
    value: out.number("Where it is."),
    speed: out.number("How fast it moves, a second."),
  },
  summary: ({ how, stiffness, damping, half }) =>
    how === "lag" ? `half-way in ${half} s` : `stiffness ${stiffness}, damping ${damping}`,
  stepping,
  evaluate({ how, stiffness, damping }, context) {
    const [now, speed] = context.carried<Way>().numbers.way;
    tell(how, stiffness, damping, context);
    return { value: constant(now), speed: constant(speed) };
  },
});

function numberOf({ value }: Inputs): number {
  const plain = plainNumber(value);
  if (plain !== null) return plain;
  throw new NodeError(
    "What arrives differs from element to element. Store it as an attribute and let Spring or Lag follow that.",
    "value",
  );
}

function sprung({ numbers }: Way, target: number, stiffness: number, damping: number, seconds: number): Way {
  const [now, speed, was] = numbers.way;
  const way = [springStep(Math.sqrt(stiffness), damping, seconds), now, speed, was, target, seconds] as const;
  return wayOf(sprungPlace(...way), sprungSpeed(...way), target);
}

function lagged({ numbers }: Way, target: number, half: number, seconds: number): Way {
  const [now, , was] = numbers.way;
  const next = laggedPlace(half, lagLeft(half, seconds), now, was, target, seconds);
  return wayOf(next, (next - now) / seconds, target);
}

function tell(how: string, stiffness: number, damping: number, context: NodeContext): void {
  if (how === "lag") return;
  if (stiffness === 0)
    context.warn('"stiffness" is 0, so nothing pulls and it stays where it began.', { input: "stiffness" });
  else if (damping === 0) context.warn('"damping" is 0, so it never settles.', { input: "damping" });
}
