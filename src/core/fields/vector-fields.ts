/** Arithmetic of vector fields, so that nodes read as formulas. */
import {
  apply,
  constant,
  divide,
  scaleBy,
  type Value,
  type VectorField,
  vectorLength,
  zip,
} from "./expression";

export const sum = (a: VectorField, b: VectorField): VectorField => zip("add", a, b);
export const less = (a: VectorField, b: VectorField): VectorField => zip("subtract", a, b);
export const timesEach = (a: VectorField, by: Value): VectorField =>
  a.map((value) => scaleBy(value, by)) as unknown as VectorField;
export const evenly = (values: readonly number[]): VectorField =>
  values.map(constant) as unknown as VectorField;

/** Of length 1; nothing where there is none. */
export const direction = (a: VectorField): VectorField => {
  const size = vectorLength(a);
  return a.map((value) => divide(value, size)) as unknown as VectorField;
};

export const crossed = ([a, b, c]: VectorField, [d, e, f]: VectorField): VectorField => {
  const minus = (p: Value, q: Value, r: Value, s: Value) => apply("subtract", [scaleBy(p, q), scaleBy(r, s)]);
  return [minus(b, f, c, e), minus(c, d, a, f), minus(a, e, b, d)];
};

/** The second where `when` is above 0.5, else the first. */
export const either = (no: VectorField, yes: VectorField, when: Value): VectorField =>
  no.map((value, a) => apply("select", [value, yes[a], when])) as unknown as VectorField;

/** 1 where the first is less than the second. */
export const isLess = (a: Value, b: Value): Value => apply("less", [a, b]);
export const both = (a: Value, b: Value): Value => scaleBy(a, b);
export const not = (a: Value): Value => apply("subtract", [constant(1), a]);
