import { apply, constant, elementCount, elementIndex, subtract, type Value } from "../../fields/expression";
import { EASES } from "../../maths/ease";
import { hash3 } from "../../maths/random";
import { defineNode } from "../define";
import { choice, field, integer, number, out } from "../ports";
import { randomField, STAGGER_CHANNEL } from "./random";

export const stagger = defineNode({
  type: "stagger",
  family: "drive",
  title: "Stagger",
  about: "From 0 to 1 over time, each element a little later than the one before.",
  synonyms: ["delay", "offset in time", "one after the other", "cascade", "wave in", "sequence", "start"],
  inputs: {
    begin: number({
      default: 0,
      soft: [0, 200],
      unit: "frames",
      about: "The frame at which the first one starts.",
    }),
    order: choice(["by order", "by chance", "by delay"], { about: "What decides how late each is." }),
    step: field.number({
      default: 2,
      soft: [0, 20],
      unit: "frames",
      shownWhen: { input: "order", is: ["by order", "by chance"] },
      about: "From one to the next; by chance they share out the same time.",
    }),
    delay: field.number({
      default: 0,
      soft: [0, 100],
      unit: "frames",
      shownWhen: { input: "order", is: ["by delay"] },
      about: "How late each is; link a distance or a falloff here.",
    }),
    seed: integer({
      default: 0,
      min: 0,
      soft: [0, 100],
      shownWhen: { input: "order", is: ["by chance"] },
      about: "Another number, other chances.",
    }),
    lasts: field.number({
      default: 12,
      soft: [0, 60],
      unit: "frames",
      about: "How long each takes; 0 jumps.",
    }),
    ease: choice(EASES, { default: "smooth", about: "How each goes from 0 to 1." }),
    returns: choice(["stays", "goes back", "begins again"], {
      about: "After it: stays at 1, goes back to 0 in as long, or begins again every so often.",
    }),
    every: number({
      default: 100,
      min: 1,
      soft: [10, 200],
      unit: "frames",
      shownWhen: { input: "returns", is: ["begins again"] },
      about: "Frames from one beginning to the next.",
    }),
  },
  outputs: {
    value: out.number("0 before it starts, 1 when it is done."),
    passed: out.number("Frames since it started."),
  },
  summary: ({ order, lasts }) => `${order}, ${lasts} frames each`,
  evaluate({ begin, order, step, delay, seed, lasts, ease, returns, every }, { time, seed: whole }) {
    const late = {
      "by order": apply("multiply", [elementIndex(), step]),
      "by chance": apply("multiply", [
        apply("multiply", [randomField(hash3(whole, seed, 0), STAGGER_CHANNEL), elementCount()]),
        step,
      ]),
      "by delay": delay,
    }[order];
    const since = subtract(constant(time.frame - begin), late);
    const passed = returns === "begins again" ? apply("modulo", [since, constant(every)]) : since;
    // What takes no time is done as soon as it starts.
    const done = apply("divide", [passed, apply("maximum", [lasts, constant(1e-6)])]);
    return {
      value: apply("ease", [returns === "goes back" ? tent(done) : done], { key: ease, ease }),
      passed,
    };
  },
});

/** Up to 1 and down again: 1 − |x − 1|. */
const tent = (x: Value): Value => subtract(constant(1), apply("absolute", [subtract(x, constant(1))]));
