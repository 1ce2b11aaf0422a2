/** Rotations that are made of angles. */
import {
  applyAll,
  constant,
  plainNumber,
  type RotationField,
  scaleBy,
  type Value,
  type VectorField,
} from "./expression";

/**
 * A rotation from angles in radians, about Z first, then Y, then X. It keeps them: two whole turns are the rotation that
 * none is, but half of them is one turn.
 */
export function turnsOf(angles: VectorField): RotationField {
  const within = angles.map(withoutRounds) as unknown as VectorField;
  const turning = within.filter((angle) => plainNumber(angle) !== 0);
  const rotation = turning.length === 1 ? aboutOne(within) : applyAll("eulerToRotation", within);
  return Object.assign(rotation as unknown as RotationField, { angles });
}

/** An angle that is the same for all, without pairs of whole turns: float32 has little room for many. */
function withoutRounds(angle: Value): Value {
  const plain = plainNumber(angle);
  return plain !== null && Math.abs(plain) > 4 * Math.PI ? constant(plain % (4 * Math.PI)) : angle;
}

function aboutOne(angles: VectorField) {
  const axis = angles.findIndex((angle) => plainNumber(angle) !== 0);
  const [sine, cosine] = applyAll("sineCosine", [scaleBy(angles[axis], constant(0.5))]);
  return [0, 1, 2].map((a) => (a === axis ? sine : constant(0))).concat(cosine);
}
