/** Fields over the frame that elements have of their own, and parts of turns. */
import {
  apply,
  applyAll,
  column,
  constant,
  divide,
  plainNumber,
  plainNumbers,
  type RotationField,
  scaleBy,
  type Value,
  type VectorField,
  vectorLength,
} from "../../fields/expression";
import { turnsOf } from "../../fields/turns";
import type { Elements } from "../elements";
import { field } from "../ports";

export const ownRotation = (): RotationField => [
  column("rotation", 0),
  column("rotation", 1),
  column("rotation", 2),
  column("rotation", 3, 1),
];

export const ownScale = (): VectorField => [
  column("scale", 0, 1),
  column("scale", 1, 1),
  column("scale", 2, 1),
];

const NOT_TURNED: RotationField = [constant(0), constant(0), constant(0), constant(1)];

/** Site rotation, or none for mesh points. */
export const frameRotation = (elements: Elements): RotationField =>
  elements.on === "sites" ? ownRotation() : NOT_TURNED;

export const turned = (rotation: RotationField, vector: VectorField): VectorField =>
  applyAll("rotateVector", [...rotation, ...vector]) as unknown as VectorField;

export const composed = (a: RotationField, b: RotationField): RotationField =>
  applyAll("multiplyRotations", [...a, ...b]) as unknown as RotationField;

/** The input that says how much of a change each axis takes. */
export const axisWeights = (about: string) =>
  field.vector({ default: [1, 1, 1], soft: [0, 1], unit: "×", about });

/**
 * The part `amount` of a turn, and of that what each axis takes. A turn made of angles has each of them times both; of any
 * other one it is the shorter way about its axis, whose share in each axis is weighted.
 */
export function partOf(turn: RotationField, amount: Value, weights: VectorField): RotationField {
  const even = plainNumbers(weights)?.every((weight) => weight === 1);
  if (even && plainNumber(amount) === 1) return turn;
  if (turn.angles) {
    const shares = turn.angles.map((angle, i) => scaleBy(angle, scaleBy(amount, weights[i])));
    return turnsOf(shares as unknown as VectorField);
  }
  const part = applyAll("partOfRotation", [...turn, amount]) as unknown as RotationField;
  if (even) return part;
  const [x, y, z, w] = part;
  // Axis × half the angle; no turn has no axis, and 0 ÷ 0 is 0 here.
  const long = divide(apply("arcTangent2", [vectorLength([x, y, z]), w]), vectorLength([x, y, z]));
  const own = [x, y, z].map((c, i) => scaleBy(scaleBy(c, long), weights[i])) as unknown as VectorField;
  const half = vectorLength(own);
  const [sine, cosine] = applyAll("sineCosine", [half]);
  const [rx, ry, rz] = own.map((c) => scaleBy(divide(c, half), sine));
  return [rx, ry, rz, cosine];
}
