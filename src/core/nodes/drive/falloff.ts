import {
  apply,
  clamp,
  constant,
  divide,
  dotProduct,
  type NumberField,
  plainNumber,
  positionField,
  subtract,
  type VectorField,
  vectorLength,
  zip,
} from "../../fields/expression";
import { EASES } from "../../maths/ease";
import { lengthOf } from "../../maths/exact";
import { STRAIGHT_PROFILE } from "../../maths/profile";
import { defineNode } from "../define";
import { choice, field, out, profile, toggle, vector } from "../ports";
import { profiled } from "./profile";

export const falloff = defineNode({
  type: "falloff",
  family: "drive",
  title: "Falloff",
  about: "1 near a place, 0 far from it, and a slope between.",
  synonyms: [
    "distance",
    "near",
    "ball",
    "box",
    "plane",
    "sphere of influence",
    "mask",
    "range",
    "proximity",
    "sweep",
  ],
  inputs: {
    form: choice(["ball", "box", "plane"], {
      about: "How the distance is measured: from a middle, from a box, or along a direction.",
    }),
    middle: field.vector({
      default: [0, 0, 0],
      soft: [-10, 10],
      about: "Where it is strongest; a plane passes through it.",
    }),
    half: vector({
      default: [1, 1, 1],
      soft: [0, 10],
      min: 0,
      shownWhen: { input: "form", is: ["box"] },
      about: "From the middle of the box to its sides; it is 1 inside.",
    }),
    facing: vector({
      default: [0, 1, 0],
      soft: [-1, 1],
      unit: "",
      shownWhen: { input: "form", is: ["plane"] },
      about: "The way the plane looks; it is 1 behind it.",
    }),
    inner: field.number({ default: 0, soft: [0, 10], unit: "units", about: "1 up to this distance." }),
    outer: field.number({ default: 3, soft: [0, 10], unit: "units", about: "0 from this distance on." }),
    ease: choice([...EASES, "profile"], { default: "smooth", about: "The slope between." }),
    profile: profile({
      default: STRAIGHT_PROFILE,
      shownWhen: { input: "ease", is: ["profile"] },
      about: "The slope drawn by hand, from the outer distance (left) to the inner.",
    }),
    invert: toggle({ default: false, about: "0 near and 1 far instead." }),
  },
  outputs: {
    value: out.number("0 to 1."),
    distance: out.number("Units from the middle, the box, or the plane (negative behind it)."),
  },
  fits: { port: "distance", side: "output", low: "inner", high: "outer" },
  summary: ({ form, inner, outer, ease }) => `${form}, ${inner} to ${outer} units, ${ease}`,
  evaluate({ form, middle, half, facing, inner, outer, ease, profile: drawn, invert }, context) {
    const offset = zip("subtract", positionField(), middle);
    const distance =
      form === "ball"
        ? vectorLength(offset)
        : form === "box"
          ? boxDistance(offset, half)
          : planeDistance(offset, facing);
    const width = subtract(outer, inner);
    const plainWidth = plainNumber(width);
    if (plainWidth !== null && plainWidth <= 0) {
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
    const shaped = ease === "profile" ? profiled(slope, drawn) : apply("ease", [slope], { key: ease, ease });
    return { value: invert ? subtract(constant(1), shaped) : shaped, distance };
  },
});

/** Distance to a box with sides along the axes; 0 inside. */
function boxDistance(offset: VectorField, half: readonly number[]): NumberField {
  const beyond = offset.map((v, a) =>
    apply("maximum", [subtract(apply("absolute", [v]), constant(half[a])), constant(0)]),
  ) as unknown as VectorField;
  return vectorLength(beyond);
}

/** Signed distance in front of a plane; a direction of no length looks up. */
function planeDistance(offset: VectorField, facing: readonly number[]): NumberField {
  const norm = lengthOf(facing[0], facing[1], facing[2]);
  const unit = norm > 0 ? facing.map((f) => f / norm) : [0, 1, 0];
  return dotProduct(offset, [constant(unit[0]), constant(unit[1]), constant(unit[2])]);
}
