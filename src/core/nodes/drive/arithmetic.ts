import {
  add,
  apply,
  constant,
  divide,
  plainNumber,
  scaleBy,
  subtract,
  type Value,
} from "../../fields/expression";
import type { OperationName } from "../../fields/operations";
import { RADIANS } from "../../maths/quaternion";
import { defineNode } from "../define";
import { choice, field, out } from "../ports";

const TWO = {
  add: "add",
  subtract: "subtract",
  multiply: "multiply",
  divide: "divide",
  power: "power",
  remainder: "modulo",
  "to and fro": "pingPong",
  least: "minimum",
  greatest: "maximum",
} as const satisfies Record<string, OperationName>;

/** As least and greatest, but one runs into the other without an edge. */
const SOFT = ["soft least", "soft greatest"] as const;

const ONE = {
  sine: "sine",
  cosine: "cosine",
  tangent: "tangent",
  "square root": "squareRoot",
  absolute: "absolute",
  sign: "sign",
  floor: "floor",
  ceiling: "ceiling",
  round: "round",
  fraction: "fraction",
  exponential: "exponential",
  logarithm: "logarithm",
} as const satisfies Record<string, OperationName>;

const CHOICES = [...Object.keys(TWO), ...SOFT, ...Object.keys(ONE)] as (
  | keyof typeof TWO
  | (typeof SOFT)[number]
  | keyof typeof ONE
)[];
const ANGLES = new Set<string>(["sine", "cosine", "tangent"]);

export const arithmetic = defineNode({
  type: "arithmetic",
  family: "drive",
  title: "Arithmetic",
  about: "Adds, divides, rounds, takes sines: one or two numbers in, one out. Sines take degrees.",
  synonyms: [
    "add",
    "subtract",
    "multiply",
    "divide",
    "sine",
    "cosine",
    "modulo",
    "power",
    "calculate",
    "sum",
    "product",
    "blend two falloffs",
    "smooth union",
    "soft minimum",
  ],
  inputs: {
    do: choice(CHOICES, { about: "What is done." }),
    a: field.number({ default: 0, soft: [-10, 10], about: "First number." }),
    b: field.number({
      default: 1,
      soft: [-10, 10],
      shownWhen: { input: "do", is: [...Object.keys(TWO), ...SOFT] },
      about: "Second number.",
    }),
    width: field.number({
      default: 0.5,
      min: 0,
      soft: [0, 2],
      shownWhen: { input: "do", is: SOFT },
      about: "They run together where they differ by less than this.",
    }),
  },
  outputs: { value: out.number("The result.") },
  summary: ({ do: operation }) => String(operation),
  evaluate({ do: operation, a, b, width }, context) {
    if (operation in ONE) {
      const argument = ANGLES.has(operation) ? apply("multiply", [a, constant(RADIANS)]) : a;
      return { value: finite(apply(ONE[operation as keyof typeof ONE], [argument]), operation, context) };
    }
    if (operation === "soft least" || operation === "soft greatest")
      return { value: softly(operation === "soft least", a, b, width) };
    if ((operation === "divide" || operation === "remainder") && plainNumber(b) === 0) {
      context.warn('"b" is 0; dividing by zero gives 0 here.', {
        input: "b",
        repair: { label: 'Set "b" to 1', input: "b", value: 1 },
      });
    }
    return { value: finite(apply(TWO[operation as keyof typeof TWO], [a, b]), operation, context) };
  },
});

/** The quadratic polynomial smooth minimum (I. Quilez, "smooth minimum", 2013): k/4 beyond the edge where both are the same. */
function softly(least: boolean, a: Value, b: Value, width: Value): Value {
  const apart = apply("absolute", [subtract(a, b)]);
  const near = apply("maximum", [subtract(width, apart), constant(0)]);
  // near² ÷ 4 width; a width of 0 leaves the edge.
  const beyond = divide(scaleBy(near, near), scaleBy(width, constant(4)));
  return least ? subtract(apply("minimum", [a, b]), beyond) : add(apply("maximum", [a, b]), beyond);
}

/** A plain result that is not a number becomes 0 with a warning; fields are watched where they are written. */
function finite(value: Value, operation: string, context: { warn(what: string): void }): Value {
  const plain = plainNumber(value);
  if (plain === null || Number.isFinite(plain)) return value;
  context.warn(`The ${operation} of this is not a finite number; 0 is passed on.`);
  return constant(0);
}
