import { mixColor, mix as mixed, type VectorField } from "../../fields/expression";
import { defineNode } from "../define";
import { choice, field, out } from "../ports";

export const mix = defineNode({
  type: "mix",
  family: "drive",
  title: "Mix",
  about: "Between two numbers, vectors or colours, by an amount.",
  synonyms: ["blend", "lerp", "interpolate", "between", "crossfade"],
  inputs: {
    of: choice(["numbers", "vectors", "colours"], { about: "What is mixed." }),
    amount: field.number({ default: 0.5, soft: [0, 1], about: "0 is the first, 1 the second." }),
    a: field.number({
      default: 0,
      soft: [-10, 10],
      shownWhen: { input: "of", is: ["numbers"] },
      about: "First number.",
    }),
    b: field.number({
      default: 1,
      soft: [-10, 10],
      shownWhen: { input: "of", is: ["numbers"] },
      about: "Second number.",
    }),
    vectorA: field.vector({
      default: [0, 0, 0],
      soft: [-10, 10],
      shownWhen: { input: "of", is: ["vectors"] },
      about: "First vector.",
    }),
    vectorB: field.vector({
      default: [1, 1, 1],
      soft: [-10, 10],
      shownWhen: { input: "of", is: ["vectors"] },
      about: "Second vector.",
    }),
    colorA: field.color({
      default: "#24463a",
      shownWhen: { input: "of", is: ["colours"] },
      about: "First colour.",
    }),
    colorB: field.color({
      default: "#f0b03a",
      shownWhen: { input: "of", is: ["colours"] },
      about: "Second colour.",
    }),
  },
  outputs: {
    value: out.number("The mixed number."),
    vector: out.vector("The mixed vector."),
    color: out.color("The mixed colour, mixed in Oklab; what is clear counts less."),
  },
  summary: ({ of }) => String(of),
  evaluate({ amount, a, b, vectorA, vectorB, colorA, colorB }) {
    return {
      value: mixed(a, b, amount),
      vector: vectorA.map((v, i) => mixed(v, vectorB[i], amount)) as unknown as VectorField,
      color: mixColor(colorA, colorB, amount),
    };
  },
});
