/** Distances that falloffs are measured by, as fields over the offset from their middle. 0 inside where a form has an inside. */
import {
  add,
  apply,
  constant,
  dotProduct,
  type NumberField,
  scaleBy,
  subtract,
  type Value,
  type VectorField,
  vectorLength,
} from "../../fields/expression";
import { cosine, lengthOf, sine } from "../../maths/exact";

export const FORMS = ["ball", "box", "plane", "cylinder", "ring", "cone"] as const;
export type Form = (typeof FORMS)[number];

export interface FormSizes {
  readonly half: readonly number[];
  readonly facing: readonly number[];
  readonly radius: number;
  /** 0 is endless. */
  readonly length: number;
  /** Radians from the axis to the side of a cone. */
  readonly opening: number;
}

export function distanceTo(form: Form, offset: VectorField, sizes: FormSizes): NumberField {
  switch (form) {
    case "ball":
      return vectorLength(offset);
    case "box":
      return boxDistance(offset, sizes.half);
    case "plane":
      return dotProduct(offset, unitField(sizes.facing));
    case "cylinder": {
      const { high, out } = aboutAxis(offset, sizes.facing);
      const beside = atLeast0(subtract(out, constant(sizes.radius)));
      if (sizes.length <= 0) return beside;
      return hypotenuse(beside, atLeast0(subtract(apply("absolute", [high]), constant(sizes.length / 2))));
    }
    case "ring": {
      const { high, out } = aboutAxis(offset, sizes.facing);
      return hypotenuse(subtract(out, constant(sizes.radius)), high);
    }
    case "cone":
      return coneDistance(offset, sizes);
  }
}

/** Distance to a box with sides along the axes; 0 inside. */
function boxDistance(offset: VectorField, half: readonly number[]): NumberField {
  const beyond = offset.map((v, a) =>
    atLeast0(subtract(apply("absolute", [v]), constant(half[a]))),
  ) as unknown as VectorField;
  return vectorLength(beyond);
}

/** From its tip at the middle it opens along the axis; behind the tip the tip is what is nearest. */
function coneDistance(offset: VectorField, { facing, opening }: FormSizes): NumberField {
  const { high, out } = aboutAxis(offset, facing);
  const [s, c] = [constant(sine(opening)), constant(cosine(opening))];
  const off = subtract(scaleBy(out, c), scaleBy(high, s));
  const alongSide = add(scaleBy(out, s), scaleBy(high, c));
  const isBehind = apply("less", [alongSide, constant(0)]);
  return apply("mix", [atLeast0(off), vectorLength(offset), isBehind]);
}

const atLeast0 = (v: Value): Value => apply("maximum", [v, constant(0)]);

const hypotenuse = (a: Value, b: Value): Value => vectorLength([a, b, constant(0)]);

/** How far along an axis through the middle, and how far from it. */
function aboutAxis(offset: VectorField, facing: readonly number[]): { high: Value; out: Value } {
  const axis = unitField(facing);
  const high = dotProduct(offset, axis);
  const beside = offset.map((v, a) => subtract(v, scaleBy(axis[a], high))) as unknown as VectorField;
  return { high, out: vectorLength(beside) };
}

/** A direction of no length looks up. */
function unitField(facing: readonly number[]): VectorField {
  const norm = lengthOf(facing[0], facing[1], facing[2]);
  const unit = norm > 0 ? facing.map((f) => f / norm) : [0, 1, 0];
  return [constant(unit[0]), constant(unit[1]), constant(unit[2])];
}
