import {
  apply,
  constant,
  divide,
  dotProduct,
  scaleBy,
  subtract,
  type Value,
  type VectorField,
  vectorLength,
  zip,
} from "../../fields/expression";
import { defineNode } from "../define";
import { choice, field, out } from "../ports";

const CHOICES = [
  "add",
  "subtract",
  "multiply",
  "divide",
  "times",
  "cross",
  "normalise",
  "length",
  "distance",
  "dot",
] as const;
const WITH_B = ["add", "subtract", "multiply", "divide", "cross", "distance", "dot"];

export const vectorArithmetic = defineNode({
  type: "vector-arithmetic",
  family: "drive",
  title: "Vector arithmetic",
  about: "Adds, turns into lengths and distances, crosses: vectors in, a vector and a number out.",
  synonyms: ["distance", "length", "dot", "cross", "normalise", "direction", "add vectors"],
  inputs: {
    do: choice(CHOICES, { about: "What is done." }),
    a: field.vector({ default: [0, 0, 0], soft: [-10, 10], about: "First vector." }),
    b: field.vector({
      default: [0, 0, 0],
      soft: [-10, 10],
      shownWhen: { input: "do", is: WITH_B },
      about: "Second vector.",
    }),
    times: field.number({
      default: 1,
      soft: [-10, 10],
      shownWhen: { input: "do", is: ["times"] },
      about: "The factor.",
    }),
  },
  outputs: {
    vector: out.vector("The result; for length, distance and dot the number three times."),
    number: out.number("The result; for the others the length of the vector."),
  },
  summary: ({ do: operation }) => String(operation),
  evaluate({ do: operation, a, b, times }) {
    const scalar = scalarOf(operation, a, b);
    if (scalar) return { vector: [scalar, scalar, scalar] as const, number: scalar };
    const vector = vectorOf(operation, a, b, times);
    return { vector, number: vectorLength(vector) };
  },
});

type Choice = (typeof CHOICES)[number];

function scalarOf(operation: Choice, a: VectorField, b: VectorField): Value | undefined {
  switch (operation) {
    case "length":
      return vectorLength(a);
    case "distance":
      return vectorLength(zip("subtract", a, b));
    case "dot":
      return dotProduct(a, b);
    default:
      return undefined;
  }
}

function vectorOf(operation: Choice, a: VectorField, b: VectorField, times: Value): VectorField {
  switch (operation) {
    case "times":
      return [scaleBy(a[0], times), scaleBy(a[1], times), scaleBy(a[2], times)];
    case "normalise": {
      const length = apply("maximum", [vectorLength(a), constant(1e-12)]);
      return [divide(a[0], length), divide(a[1], length), divide(a[2], length)];
    }
    case "cross":
      return [
        subtract(scaleBy(a[1], b[2]), scaleBy(a[2], b[1])),
        subtract(scaleBy(a[2], b[0]), scaleBy(a[0], b[2])),
        subtract(scaleBy(a[0], b[1]), scaleBy(a[1], b[0])),
      ];
    default:
      return zip(operation as "add" | "subtract" | "multiply" | "divide", a, b);
  }
}
