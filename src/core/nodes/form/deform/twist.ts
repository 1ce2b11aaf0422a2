import { applyAll, positionField, scaleBy } from "../../../fields/expression";
import { defineNode } from "../../define";
import { field, out, shape } from "../../ports";
import { alongInputs, alongOf, amountInput, beside, deformed, partAlong, placeOf, turnAbout } from "./along";

export const twist = defineNode({
  type: "twist",
  family: "form",
  title: "Twist",
  about: "Turns a shape about an axis, more and more from one end to the other; it stays as large as it is.",
  synonyms: ["wring", "spiral", "corkscrew", "rotate along", "deform", "drill"],
  inputs: {
    shape: shape({ about: "A mesh, curves or clones." }),
    angle: field.angle({
      default: 90,
      soft: [-720, 720],
      about: "How far the end is turned against the beginning.",
    }),
    amount: amountInput(),
    ...alongInputs("turns"),
  },
  keepsHandles: true,
  outputs: { shape: out.shape("The same, twisted.") },
  summary: ({ angle, along }) => `${angle}° along ${along}`,
  evaluate(inputs, context) {
    const { shape, angle, amount } = inputs;
    const along = alongOf(inputs, context);
    if (!along) return { shape };
    const turned = scaleBy(scaleBy(angle, amount), partAlong(along));
    const [b, c] = beside(along);
    const [toB, toC] = applyAll("turnPair", [b, c, turned]);
    const position = placeOf(along, positionField()[along.axis], toB, toC);
    return { shape: deformed(shape, { position, turn: turnAbout(along.axis, turned) }, context) };
  },
});
