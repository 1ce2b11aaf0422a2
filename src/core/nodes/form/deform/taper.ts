import { constant, mix, positionField, scaleBy } from "../../../fields/expression";
import { STRAIGHT_PROFILE } from "../../../maths/profile";
import { defineNode } from "../../define";
import { profiled } from "../../drive/profile";
import { field, out, profile, shape } from "../../ports";
import { alongInputs, alongOf, amountInput, beside, deformed, partAlong, placeOf } from "./along";

export const taper = defineNode({
  type: "taper",
  family: "form",
  title: "Taper",
  about: "Makes a shape narrower or wider from one end to the other, along a curve of your own.",
  synonyms: ["narrow", "cone", "pinch", "bulge", "flare", "waist", "deform", "scale along"],
  inputs: {
    shape: shape({ about: "A mesh, curves or clones." }),
    size: field.number({ default: 0.5, soft: [0, 2], unit: "×", about: "How wide the end is." }),
    curve: profile({
      default: STRAIGHT_PROFILE,
      about: "How it gets there: 0 as wide as it was, 1 as wide as the end.",
    }),
    amount: amountInput(),
    ...alongInputs("narrows"),
  },
  keepsHandles: true,
  outputs: { shape: out.shape("The same, tapered.") },
  summary: ({ size, along }) => `to ${size} × along ${along}`,
  evaluate(inputs, context) {
    const { shape, size, curve, amount } = inputs;
    const along = alongOf(inputs, context);
    if (!along) return { shape };
    const wide = mix(constant(1), size, scaleBy(profiled(partAlong(along), curve), amount));
    const [b, c] = beside(along);
    const position = placeOf(along, positionField()[along.axis], scaleBy(b, wide), scaleBy(c, wide));
    return { shape: deformed(shape, { position }, context) };
  },
});
