/**
 * A field is an expression graph over the elements of a domain: constants, column reads, element numbers and
 * operations. A `Value` is one number per element; a vector field is three values, a rotation or colour four.
 * Expressions are immutable and made by `apply`, which folds constants as it goes.
 */
import type { Lane } from "../geometry/column";
import { callOnce } from "./lower";
import type { Operation, StepData } from "./operation";
import { OPERATIONS, type OperationName } from "./operations";

export interface Step {
  readonly op: OperationName;
  readonly inputs: readonly Value[];
  readonly data: StepData | undefined;
}

/** Output number `lane` of a step. */
export interface Value {
  readonly step: Step;
  readonly lane: number;
}

export type NumberField = Value;
export type VectorField = readonly [Value, Value, Value];
/** A quaternion; where it was made of angles (turns.ts) those too, radians. */
export type RotationField = readonly [Value, Value, Value, Value] & { readonly angles?: VectorField };
export type ColorField = readonly [Value, Value, Value, Value];

export const isValue = (value: unknown): value is Value =>
  typeof value === "object" && value !== null && "step" in value && "lane" in value;

/**
 * The step and all that it needs, inputs before what uses them, but for those that are `done` already. Without recursion:
 * fields may be thousands of steps deep.
 */
export function* inputsFirst(root: Step, done: { has(step: Step): boolean }): Generator<Step> {
  const stack = [root];
  while (stack.length > 0) {
    const step = stack[stack.length - 1];
    const waiting = step.inputs.filter((input) => !done.has(input.step));
    for (const input of waiting) stack.push(input.step);
    if (waiting.length > 0) continue;
    stack.pop();
    if (!done.has(step)) yield step;
  }
}

const NO_LANES: ReadonlySet<Lane> = new Set();
const held = new WeakMap<Step, ReadonlySet<Lane>>();

/** Lanes in the kernels' memory that a field reads besides those of the elements. */
export function lanesHeldBy({ step: root }: Value): ReadonlySet<Lane> {
  for (const step of inputsFirst(root, held)) {
    const all = [
      ...(step.data?.lanes ?? []),
      ...step.inputs.flatMap((input) => [...lanesOfStep(input.step)]),
    ];
    held.set(step, all.length > 0 ? new Set(all) : NO_LANES);
  }
  return lanesOfStep(root);
}

const lanesOfStep = (step: Step): ReadonlySet<Lane> => held.get(step) ?? NO_LANES;

/** The same number for every element. Kept as a float64 until it reaches a block. */
export const constant = (value: number): Value => ({
  step: { op: "constant", inputs: [], data: { key: Object.is(value, -0) ? "-0" : String(value), value } },
  lane: 0,
});

export const constants = <T extends readonly number[]>(values: T): { [K in keyof T]: Value } =>
  values.map(constant) as { [K in keyof T]: Value };

/** The constant's number, or null when the value differs between elements. */
export const plainNumber = (value: Value): number | null =>
  value.step.op === "constant" ? (value.step.data?.value as number) : null;

/** The constant numbers of all components, or null when any differs between elements. */
export function plainNumbers(values: readonly Value[]): number[] | null {
  const numbers = values.map(plainNumber);
  return numbers.includes(null) ? null : (numbers as number[]);
}

/** Component `lane` of the named attribute, as stored on the elements the field runs on. */
export const column = (name: string, lane: number, fallback = 0): Value => ({
  step: { op: "column", inputs: [], data: { key: `${name}.${lane}.${fallback}`, name, lane, fallback } },
  lane: 0,
});

/** The column that a value is, as it is stored; null for all else. */
export const plainColumn = ({ step }: Value): { readonly name: string; readonly lane: number } | null =>
  step.op === "column" ? { name: step.data?.name as string, lane: step.data?.lane as number } : null;

export const positionField = (): VectorField => [
  column("position", 0),
  column("position", 1),
  column("position", 2),
];

/** 0, 1, 2 … in the order of the elements. */
export const elementIndex = (): Value => ({ step: { op: "index", inputs: [], data: undefined }, lane: 0 });

/** Its id as an integer, for `random`. */
export const elementId = (): Value => ({ step: { op: "elementId", inputs: [], data: undefined }, lane: 0 });

/** The number of elements. */
export const elementCount = (): Value => ({ step: { op: "count", inputs: [], data: undefined }, lane: 0 });

/** What gives the same with fewer instructions; null when there is no such thing. */
function shorter(op: OperationName, inputs: readonly Value[], data?: StepData): Value | null {
  const made = inputs.map(({ step }) => step);
  const [first, second] = inputs.map(plainNumber);
  // Nothing of anything is nothing, even of what is not finite: it could only spread.
  if (op === "multiply" && (first === 0 || second === 0)) return constant(0);
  if ((op === "multiply" && second === 1) || ((op === "add" || op === "subtract") && second === 0))
    return inputs[0];
  if ((op === "multiply" && first === 1) || (op === "add" && first === 0)) return inputs[1];
  if (op === "add") {
    const at = made[1].op === "multiply" ? 1 : 0;
    return made[at].op === "multiply" ? apply("multiplyAdd", [...made[at].inputs, inputs[1 - at]]) : null;
  }
  if (op === "mix") {
    const t = plainNumber(inputs[2]);
    return t === 0 ? inputs[0] : t === 1 ? inputs[1] : null;
  }
  // Clipping is what an ease begins with.
  if (op !== "ease" || made[0].op !== "clamp") return null;
  const [low, high] = made[0].inputs.slice(1).map(plainNumber);
  return low === 0 && high === 1 ? apply(op, [made[0].inputs[0]], data) : null;
}

/**
 * The operation applied to values; returns all its outputs. When every input is constant the result is
 * computed at once: in float64 where the operation can, else by the code that runs over blocks.
 */
export function applyAll(op: OperationName, inputs: readonly Value[], data?: StepData): Value[] {
  const operation: Operation = OPERATIONS[op];
  const { outputs, fold } = operation;
  const plain = plainNumbers(inputs);
  if (plain && inputs.length > 0) {
    if (fold) return [constant(fold(...plain))];
    return callOnce(operation, plain, data).map(constant);
  }
  const less = shorter(op, inputs, data);
  if (less) return [less];
  const step: Step = { op, inputs, data };
  return Array.from({ length: outputs }, (_, lane) => ({ step, lane }));
}

/** `applyAll` for operations with one output. */
export const apply = (op: OperationName, inputs: readonly Value[], data?: StepData): Value =>
  applyAll(op, inputs, data)[0];

/** A shorthand per arithmetic operation, so that nodes read as formulas. */
export const add = (a: Value, b: Value): Value => apply("add", [a, b]);
export const subtract = (a: Value, b: Value): Value => apply("subtract", [a, b]);
export const scaleBy = (a: Value, b: Value): Value => apply("multiply", [a, b]);
export const divide = (a: Value, b: Value): Value => apply("divide", [a, b]);
export const mix = (a: Value, b: Value, t: Value): Value => apply("mix", [a, b, t]);
export const clamp = (a: Value, low: Value, high: Value): Value => apply("clamp", [a, low, high]);

/** Component by component over two lists of equal length. */
export const zip = <T extends readonly Value[]>(op: OperationName, a: T, b: T): T =>
  a.map((value, i) => apply(op, [value, b[i]])) as unknown as T;

export const dotProduct = (a: VectorField, b: VectorField): Value =>
  add(add(scaleBy(a[0], b[0]), scaleBy(a[1], b[1])), scaleBy(a[2], b[2]));

export const vectorLength = (a: VectorField): Value => apply("length3", a);

/** Two colours mixed in Oklab, each by its alpha (see `alphaShare` of maths/color.ts). */
export function mixColor(from: ColorField, to: ColorField, t: Value): ColorField {
  const alpha = mix(from[3], to[3], t);
  const [a, b] = [plainNumber(from[3]), plainNumber(to[3])];
  const weighted = divide(apply("multiply", [t, to[3]]), alpha);
  const share =
    a !== null && a === b ? t : apply("select", [t, weighted, apply("less", [constant(0), alpha])]);
  const [red, green, blue] = applyAll("mixColors", [...from.slice(0, 3), ...to.slice(0, 3), share]);
  return [red, green, blue, alpha];
}
