import { apply, column, constant, mix, type Value } from "../../fields/expression";
import { hash3 } from "../../maths/random";
import { defineNode } from "../define";
import { field, integer, out, toggle } from "../ports";

/** 0 ≤ value < 1 per element, from its id; `channel` gives independent ones for the same seed. */
export const randomField = (seed: number, channel: number): Value =>
  apply("random", [column("id", 0)], { key: `${seed}.${channel}`, seed, channel });

export const random = defineNode({
  type: "random",
  family: "drive",
  title: "Random",
  about: "A number and a vector by chance for each element, the same every time.",
  synonyms: ["chance", "vary", "variation", "jitter", "random size", "random colour", "seed", "dice"],
  inputs: {
    low: field.number({ default: 0, soft: [-2, 2], about: "Least." }),
    high: field.number({ default: 1, soft: [-2, 2], about: "Greatest." }),
    seed: integer({ default: 0, min: 0, soft: [0, 100], about: "Another number, other values." }),
    whole: toggle({ default: false, about: "Whole numbers only, both ends included." }),
  },
  outputs: {
    value: out.number("One number for each element."),
    vector: out.vector("Three independent numbers for each element."),
  },
  summary: ({ low, high }) => `${low} … ${high}`,
  evaluate({ low, high, seed, whole }, context) {
    // The node's seed and the piece's seed are mixed, so that changing either changes everything.
    const own = hash3(context.seed, seed, 0);
    const pick = (channel: number): Value => {
      const unit = randomField(own, channel);
      if (!whole) return mix(low, high, unit);
      const span = apply("add", [apply("subtract", [high, low]), constant(1)]);
      return apply("add", [low, apply("floor", [apply("multiply", [unit, span])])]);
    };
    return { value: pick(0), vector: [pick(1), pick(2), pick(3)] as const };
  },
});
