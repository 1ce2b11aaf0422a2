/**
 * A formula over any kind of number: fields in the Formula node, plain numbers where one is typed. Values have one
 * component or three; single numbers spread over vectors. Angles are degrees, as everywhere in the interface.
 */
import type { OperationName } from "../fields/operations";
import { RADIANS } from "../maths/quaternion";
import { type Formula, FormulaFault } from "./parse";

/** How to make and combine the numbers. */
export interface Algebra<T> {
  constant(value: number): T;
  apply(operation: OperationName, args: readonly T[]): T;
}

/** One component for a number, three for a vector. */
export type Components<T> = readonly T[];

const CONSTANTS: Readonly<Record<string, number>> = { pi: Math.PI, tau: 2 * Math.PI, e: Math.E };

/** Functions that work on each component by itself; GLSL 4.60 §8 where it has them. */
const EACH: Readonly<Record<string, { args: number; of: <T>(a: Algebra<T>, x: readonly T[]) => T }>> = {
  "+": { args: 2, of: (a, x) => a.apply("add", x) },
  "-": { args: 2, of: (a, x) => a.apply("subtract", x) },
  "*": { args: 2, of: (a, x) => a.apply("multiply", x) },
  "/": { args: 2, of: (a, x) => a.apply("divide", x) },
  "%": { args: 2, of: (a, x) => a.apply("modulo", x) },
  "^": { args: 2, of: (a, x) => a.apply("power", x) },
  negate: { args: 1, of: (a, [x]) => a.apply("subtract", [a.constant(0), x]) },
  "<": { args: 2, of: (a, x) => a.apply("less", x) },
  ">": { args: 2, of: (a, [x, y]) => a.apply("less", [y, x]) },
  "<=": { args: 2, of: (a, [x, y]) => not(a, a.apply("less", [y, x])) },
  ">=": { args: 2, of: (a, x) => not(a, a.apply("less", x)) },
  "==": { args: 2, of: (a, x) => not(a, differs(a, x)) },
  "!=": { args: 2, of: differs },
  "!": { args: 1, of: (a, [x]) => not(a, truth(a, x)) },
  "&&": { args: 2, of: (a, [x, y]) => a.apply("multiply", [truth(a, x), truth(a, y)]) },
  "||": { args: 2, of: (a, [x, y]) => a.apply("maximum", [truth(a, x), truth(a, y)]) },
  "?": { args: 3, of: (a, [when, yes, no]) => a.apply("select", [no, yes, when]) },
  sin: { args: 1, of: (a, [x]) => a.apply("sine", [radians(a, x)]) },
  cos: { args: 1, of: (a, [x]) => a.apply("cosine", [radians(a, x)]) },
  tan: { args: 1, of: (a, [x]) => a.apply("tangent", [radians(a, x)]) },
  asin: { args: 1, of: (a, x) => degrees(a, a.apply("arcSine", x)) },
  acos: { args: 1, of: (a, x) => degrees(a, a.apply("arcCosine", x)) },
  atan: { args: 2, of: (a, x) => degrees(a, a.apply("arcTangent2", x)) },
  sqrt: { args: 1, of: (a, x) => a.apply("squareRoot", x) },
  abs: { args: 1, of: (a, x) => a.apply("absolute", x) },
  sign: { args: 1, of: (a, x) => a.apply("sign", x) },
  floor: { args: 1, of: (a, x) => a.apply("floor", x) },
  ceil: { args: 1, of: (a, x) => a.apply("ceiling", x) },
  round: { args: 1, of: (a, x) => a.apply("round", x) },
  fract: { args: 1, of: (a, x) => a.apply("fraction", x) },
  exp: { args: 1, of: (a, x) => a.apply("exponential", x) },
  log: { args: 1, of: (a, x) => a.apply("logarithm", x) },
  pow: { args: 2, of: (a, x) => a.apply("power", x) },
  mod: { args: 2, of: (a, x) => a.apply("modulo", x) },
  min: { args: 2, of: (a, x) => a.apply("minimum", x) },
  max: { args: 2, of: (a, x) => a.apply("maximum", x) },
  clamp: { args: 3, of: (a, x) => a.apply("clamp", x) },
  mix: { args: 3, of: (a, x) => a.apply("mix", x) },
  step: { args: 2, of: (a, [edge, x]) => not(a, a.apply("less", [x, edge])) },
  smoothstep: { args: 3, of: smoothStep },
};

/** Functions of whole vectors. */
const WHOLE: Readonly<
  Record<string, { args: number; of: <T>(a: Algebra<T>, x: readonly Components<T>[]) => Components<T> }>
> = {
  length: { args: 1, of: (a, [v]) => [norm(a, v)] },
  distance: { args: 2, of: (a, [u, v]) => [norm(a, each(a, "-", [u, v]))] },
  dot: { args: 2, of: (a, [u, v]) => [dot(a, u, v)] },
  normalize: { args: 1, of: (a, [v]) => each(a, "/", [v, [norm(a, v)]]) },
  cross: {
    args: 2,
    of: (a, [u, v]) =>
      [1, 2, 0].map((j, i) => {
        const k = 3 - i - j;
        return a.apply("subtract", [
          a.apply("multiply", [u[j] ?? u[0], v[k] ?? v[0]]),
          a.apply("multiply", [u[k] ?? u[0], v[j] ?? v[0]]),
        ]);
      }),
  },
};

/** Names of all functions, for messages and help. */
export const FUNCTION_NAMES: readonly string[] = [
  ...Object.keys(EACH).filter((name) => /^[a-z]/.test(name) && name !== "negate"),
  ...Object.keys(WHOLE),
  "vec3",
];

/**
 * Works a formula out.
 * @param names what each name in it stands for
 * @throws FormulaFault at the character of an unknown name, or of a function with the wrong arguments
 */
export function compileFormula<T>(
  formula: Formula,
  algebra: Algebra<T>,
  names: Readonly<Record<string, Components<T>>> = {},
): Components<T> {
  switch (formula.kind) {
    case "number":
      return [algebra.constant(formula.value)];
    case "name":
      if (Object.hasOwn(names, formula.name)) return names[formula.name];
      if (Object.hasOwn(CONSTANTS, formula.name)) return [algebra.constant(CONSTANTS[formula.name])];
      throw new FormulaFault(formula.at, unknownName(formula.name, Object.keys(names)));
    case "part": {
      const of = compileFormula(formula.of, algebra, names);
      if (of.length === 1) throw new FormulaFault(formula.at, "Only a vector has parts; this is one number.");
      return [of[formula.part]];
    }
    case "call":
      return call(
        formula,
        algebra,
        formula.args.map((arg) => compileFormula(arg, algebra, names)),
      );
  }
}

function unknownName(name: string, names: readonly string[]): string {
  if (FUNCTION_NAMES.includes(name)) return `"${name}" needs brackets.`;
  return `"${name}" is not known${names.length > 0 ? `; ${names.join(", ")} are` : ""}.`;
}

function call<T>(
  { name, args, at }: Extract<Formula, { kind: "call" }>,
  algebra: Algebra<T>,
  values: readonly Components<T>[],
): Components<T> {
  const expects = (count: number) => {
    if (args.length !== count) {
      const things = count === 1 ? "1 value" : `${count} values`;
      throw new FormulaFault(at, `"${name}" takes ${things}, not ${args.length}.`);
    }
  };
  if (name === "vec3") {
    if (args.length === 1 && values[0].length === 1) return [values[0][0], values[0][0], values[0][0]];
    expects(3);
    const vector = values.findIndex((v) => v.length > 1);
    if (vector >= 0) throw new FormulaFault(args[vector].at, '"vec3" takes three numbers; this is a vector.');
    return values.map((v) => v[0]);
  }
  if (name === "atan" && args.length === 1) return each(algebra, name, [values[0], [algebra.constant(1)]]);
  if (Object.hasOwn(EACH, name)) {
    expects(EACH[name].args);
    return each(algebra, name, values);
  }
  if (Object.hasOwn(WHOLE, name)) {
    expects(WHOLE[name].args);
    return WHOLE[name].of(algebra, values);
  }
  throw new FormulaFault(at, `"${name}" is no function that is known.`);
}

function each<T>(algebra: Algebra<T>, name: string, values: readonly Components<T>[]): Components<T> {
  const width = Math.max(...values.map((v) => v.length));
  return Array.from({ length: width }, (_, i) =>
    EACH[name].of(
      algebra,
      values.map((v) => v[i] ?? v[0]),
    ),
  );
}

const radians = <T>(a: Algebra<T>, x: T): T => a.apply("multiply", [x, a.constant(RADIANS)]);
const degrees = <T>(a: Algebra<T>, x: T): T => a.apply("divide", [x, a.constant(RADIANS)]);
const not = <T>(a: Algebra<T>, x: T): T => a.apply("subtract", [a.constant(1), x]);
/** Yes above 0.5, as everywhere. */
const truth = <T>(a: Algebra<T>, x: T): T => a.apply("less", [a.constant(0.5), x]);

function differs<T>(a: Algebra<T>, [x, y]: readonly T[]): T {
  return a.apply("maximum", [a.apply("less", [x, y]), a.apply("less", [y, x])]);
}

function dot<T>(a: Algebra<T>, u: Components<T>, v: Components<T>): T {
  return each(a, "*", [u, v]).reduce((sum, product) => a.apply("add", [sum, product]));
}

function norm<T>(a: Algebra<T>, v: Components<T>): T {
  return v.length === 1 ? a.apply("absolute", v) : a.apply("length3", v);
}

/** 3t²−2t³ between the edges; a step where they are the same. */
function smoothStep<T>(a: Algebra<T>, [low, high, x]: readonly T[]): T {
  const width = a.apply("subtract", [high, low]);
  const part = a.apply("divide", [a.apply("subtract", [x, low]), width]);
  const t = a.apply("clamp", [part, a.constant(0), a.constant(1)]);
  const slope = a.apply("subtract", [a.constant(3), a.apply("multiply", [a.constant(2), t])]);
  return a.apply("multiply", [a.apply("multiply", [t, t]), slope]);
}
