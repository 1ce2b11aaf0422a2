import type { RotationField, Value } from "../../../fields/expression";
import {
  add,
  apply,
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
  outputs: { shape: out.shape("The same, bent.") },
  summary: ({ angle: by, along }) => `${by}° along ${along}`,
  evaluate(inputs, context) {
    const { shape, angle: by, towards, amount } = inputs;
    const along = alongOf(inputs, context);
    if (!along) return { shape };
    const on = positionField()[along.axis];
    const [from, length] = [constant(along.from), constant(along.length)];
    const within = subtract(clamp(on, from, constant(along.from + along.length)), from);
    const beyond = subtract(on, add(from, within));
    const turned = divide(scaleBy(scaleBy(by, amount), within), length);
    // Beside the axis: towards where it bends, and across that.
    const [b, c] = beside(along);
    const [sx, cx] = applyAll("sineCosine", [constant(towards)]);
    const side = add(scaleBy(b, cx), scaleBy(c, sx));
    const across = subtract(scaleBy(c, cx), scaleBy(b, sx));
    const [s, k] = applyAll("sineCosine", [turned]);
    const half = divide(turned, constant(2));
    const chord = scaleBy(within, part(half));
    const [sh, kh] = applyAll("sineCosine", [half]);
    // The middle line goes along the chord of its arc, which leans by half the angle.
    const bentOn = add(add(from, scaleBy(chord, kh)), subtract(scaleBy(beyond, k), scaleBy(side, s)));
    const bentSide = add(add(scaleBy(chord, sh), scaleBy(beyond, s)), scaleBy(side, k));
    const position = placeOf(
      along,
      bentOn,
      subtract(scaleBy(bentSide, cx), scaleBy(across, sx)),
      add(scaleBy(bentSide, sx), scaleBy(across, cx)),
    );
    return {
      shape: deformed(shape, { position, turn: leaning(along.axis, along.sides, turned, towards) }, context),
    };
  },
});

/** sin x ÷ x, 1 where there is no angle. */
function part(x: Value): Value {
  const small = apply("less", [apply("absolute", [x]), constant(1e-4)]);
  return apply("select", [divide(apply("sine", [x]), x), constant(1), small]);
}

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
