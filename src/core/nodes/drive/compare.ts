import { apply, constant } from "../../fields/expression";
import { defineNode } from "../define";
import { choice, field, out } from "../ports";

export const compare = defineNode({
  type: "compare",
  family: "drive",
  title: "Compare",
  about: "1 where a comparison holds, 0 where it does not.",
  synonyms: ["greater", "less", "equal", "if", "threshold", "condition", "mask"],
  inputs: {
    a: field.number({ default: 0, soft: [-10, 10], about: "First number." }),
    is: choice(["greater than", "less than", "about equal to"], { about: "The comparison." }),
    b: field.number({ default: 0.5, soft: [-10, 10], about: "Second number." }),
    within: field.number({
      default: 0.001,
      min: 0,
      soft: [0, 1],
      shownWhen: { input: "is", is: ["about equal to"] },
      about: "How far apart they may be.",
    }),
  },
  outputs: { value: out.number("1 or 0.") },
  summary: ({ is, b }) => `${is} ${b}`,
  evaluate({ a, is, b, within }) {
    if (is === "greater than") return { value: apply("less", [b, a]) };
    if (is === "less than") return { value: apply("less", [a, b]) };
    const apart = apply("absolute", [apply("subtract", [a, b])]);
    return { value: apply("subtract", [constant(1), apply("less", [within, apart])]) };
  },
});
