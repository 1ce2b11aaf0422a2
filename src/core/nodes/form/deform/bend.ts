import type { RotationField, Value } from "../../../fields/expression";
import {
  add,
  applyAll,
  clamp,
  constant,
  divide,
  positionField,
  scaleBy,
  subtract,
} from "../../../fields/expression";
import { cosine, sine } from "../../../maths/exact";
import { defineNode } from "../../define";
import { angle, field, out, shape } from "../../ports";
import { alongInputs, alongOf, amountInput, beside, deformed, placeOf } from "./along";

export const bend = defineNode({
  type: "bend",
  family: "form",
  title: "Bend",
  about: "Bends a shape into an arc; its middle line keeps its length, and what is beyond goes on straight.",
  synonyms: ["curve", "arch", "fold", "roll up", "curl", "arc", "deform"],
  inputs: {
    shape: shape({ about: "A mesh, curves or clones." }),
    angle: field.angle({
      default: 90,
      soft: [-360, 360],
      about: "From the beginning of the range to its end.",
    }),
    towards: angle({
      default: 0,
      about: "To which side, as an angle about the axis; 0 is the next axis: z for y, x for z, y for x.",
    }),
    amount: amountInput(),
    ...alongInputs("bends"),
  },
  keepsHandles: true,
  outputs: { shape: out.shape("The same, bent.") },
  summary: ({ angle: by, along }) => `${by}° along ${along}`,
  evaluate(inputs, context) {
    const { shape, angle: by, towards, amount } = inputs;
    const along = alongOf(inputs, context);
    if (!along) return { shape };
    const from = constant(along.from);
    const on = subtract(positionField()[along.axis], from);
    const whole = scaleBy(by, amount);
    const [b, c] = beside(along);
    // Beside the axis: towards where it bends, and across that.
    const [side, across] = turnedPair(b, c, -towards);
    const [bentOn, bentSide] = applyAll("bendPair", [on, side, whole], {
      key: String(along.length),
      length: along.length,
    });
    const position = placeOf(along, add(bentOn, from), ...turnedPair(bentSide, across, towards));
    const length = constant(along.length);
    const turned = divide(scaleBy(whole, clamp(on, constant(0), length)), length);
    return {
      shape: deformed(shape, { position, turn: leaning(along.axis, along.sides, turned, towards) }, context),
    };
  },
});

const turnedPair = (b: Value, c: Value, angle: number): readonly [Value, Value] =>
  angle === 0 ? [b, c] : (applyAll("turnPair", [b, c, constant(angle)]) as [Value, Value]);

/** The turn from the axis to the side that it bends to. */
function leaning(
  axis: 0 | 1 | 2,
  sides: readonly [0 | 1 | 2, 0 | 1 | 2],
  turned: Value,
  towards: number,
): RotationField {
  const half = divide(turned, constant(2));
  const [s, k] = applyAll("sineCosine", [half]);
  // About what stands on both: axis × side.
  const turn: Value[] = [];
  turn[axis] = constant(0);
  turn[sides[0]] = scaleBy(s, constant(-sine(towards)));
  turn[sides[1]] = scaleBy(s, constant(cosine(towards)));
  turn[3] = k;
  return turn as unknown as RotationField;
}
