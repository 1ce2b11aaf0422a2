import {
  apply,
  clamp,
  constant,
  divide,
  positionField,
  subtract,
  vectorLength,
  zip,
} from "../../fields/expression";
import { EASES } from "../../maths/ease";
import { defineNode } from "../define";
import { choice, field, out, toggle } from "../ports";

export const falloff = defineNode({
  type: "falloff",
  family: "drive",
  title: "Falloff",
  about: "1 near a place, 0 far from it, and a slope between.",
  synonyms: ["distance", "near", "ball", "sphere of influence", "mask", "range", "proximity"],
  inputs: {
    middle: field.vector({ default: [0, 0, 0], soft: [-10, 10], about: "Where it is strongest." }),
    inner: field.number({
      default: 0,
      min: 0,
      soft: [0, 10],
      unit: "units",
      about: "1 up to this distance.",
    }),
    outer: field.number({
      default: 3,
      min: 0,
      soft: [0, 10],
      unit: "units",
      about: "0 from this distance on.",
    }),
    ease: choice(EASES, { default: "smooth", about: "The slope between." }),
    invert: toggle({ default: false, about: "0 near and 1 far instead." }),
  },
  outputs: {
    value: out.number("0 to 1."),
    distance: out.number("Units from the middle."),
  },
  summary: ({ inner, outer, ease }) => `ball, ${inner} to ${outer} units, ${ease}`,
  evaluate({ middle, inner, outer, ease, invert }, context) {
    const distance = vectorLength(zip("subtract", positionField(), middle));
    const width = subtract(outer, inner);
    if (width.step.op === "constant" && (width.step.data?.value as number) <= 0) {
      context.warn("The outer distance is not beyond the inner one, so there is a hard edge.", {
        input: "outer",
      });
    }
    // A width of 0 gives a step at `inner`: divide by a hair's breadth instead of by zero.
    const safe = apply("maximum", [width, constant(1e-6)]);
    const slope = clamp(
      divide(subtract(apply("add", [inner, safe]), distance), safe),
      constant(0),
      constant(1),
    );
    const shaped = apply("ease", [slope], { key: ease, ease });
    return { value: invert ? subtract(constant(1), shaped) : shaped, distance };
  },
});
