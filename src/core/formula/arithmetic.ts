/** Plain arithmetic typed into a number field: `360/13`, `2*(3+4)^2`, `-1.5e2`, `pi/2`, `max(2, 3)`. */
import type { Operation } from "../fields/operation";
import { OPERATIONS } from "../fields/operations";
import { type Algebra, compileFormula } from "./compile";
import { FormulaFault, parseFormula } from "./parse";

export type ArithmeticResult =
  | { readonly ok: true; readonly value: number }
  /** `at` is the character, counted from 0. */
  | { readonly ok: false; readonly at: number; readonly what: string };

/** Here a division by zero is a mistake to be told, not a 0 that keeps a field going. */
const NUMBERS: Algebra<number> = {
  constant: (value) => value,
  apply(name, args) {
    if ((name === "divide" || name === "modulo") && args[1] === 0) return Number.NaN;
    const operation: Operation = OPERATIONS[name];
    return operation.fold ? operation.fold(...args) : Number.NaN;
  },
};

/** Angles of sin, cos and tan are degrees. A comma between digits counts as a decimal point. */
export function evaluateArithmetic(text: string): ArithmeticResult {
  try {
    const values = compileFormula(parseFormula(text, { decimalComma: true }), NUMBERS);
    if (values.length > 1) return { ok: false, at: 0, what: "The result is a vector, not one number." };
    if (!Number.isFinite(values[0])) return { ok: false, at: 0, what: "The result is not a finite number." };
    return { ok: true, value: values[0] };
  } catch (error) {
    if (error instanceof FormulaFault) return { ok: false, at: error.at, what: error.message };
    throw error;
  }
}
