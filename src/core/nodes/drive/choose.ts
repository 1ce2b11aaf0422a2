import { apply, type NumberField } from "../../fields/expression";
import { defineNode } from "../define";
import { field, out } from "../ports";

export const choose = defineNode({
  type: "choose",
  family: "drive",
  title: "Choose",
  about: "The first value where the condition is no, the second where it is yes.",
  synonyms: ["if", "else", "select", "either", "pick value"],
  inputs: {
    when: field.number({ default: 0, soft: [0, 1], about: "Yes above 0.5; link a comparison here." }),
    no: field.number({ default: 0, soft: [-10, 10], about: "Where it is no." }),
    yes: field.number({ default: 1, soft: [-10, 10], about: "Where it is yes." }),
    noVector: field.vector({ default: [0, 0, 0], soft: [-10, 10], about: "The vector where it is no." }),
    yesVector: field.vector({ default: [1, 1, 1], soft: [-10, 10], about: "The vector where it is yes." }),
  },
  outputs: { value: out.number("The chosen number."), vector: out.vector("The chosen vector.") },
  evaluate({ when, no, yes, noVector, yesVector }) {
    const pick = (a: NumberField, b: NumberField) => apply("select", [a, b, when]);
    return {
      value: pick(no, yes),
      vector: [
        pick(noVector[0], yesVector[0]),
        pick(noVector[1], yesVector[1]),
        pick(noVector[2], yesVector[2]),
      ] as const,
    };
  },
});
