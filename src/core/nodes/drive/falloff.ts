import {
  apply,
  clamp,
  constant,
  divide,
  plainNumber,
  positionField,
  subtract,
  zip,
} from "../../fields/expression";
import { EASES } from "../../maths/ease";
import { STRAIGHT_PROFILE } from "../../maths/profile";
import { defineNode } from "../define";
import { angle, choice, field, length, out, profile, toggle, vector } from "../ports";
import { distanceTo, FORMS } from "./falloff-forms";
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
    "cylinder",
    "ring",
    "cone",
    "sphere of influence",
    "mask",
    "range",
    "proximity",
    "near a path",
    "near a shape",
  ],
  inputs: {
    form: choice([...FORMS, "given distance"], {
      about:
        "How the distance is measured: from a middle, a box, a plane, a cylinder, a ring or a cone; or one that arrives.",
    }),
    given: field.number({
      default: 0,
      soft: [0, 10],
      unit: "units",
      shownWhen: { input: "form", is: ["given distance"] },
      about: "Link the distance of Nearest (a shape), Nearest on path, Cells or another.",
    }),
    middle: field.vector({
      default: [0, 0, 0],
      soft: [-10, 10],
      handle: "place",
      shownWhen: { input: "form", is: FORMS },
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
      handle: "middle",
      shownWhen: { input: "form", is: ["plane", "cylinder", "ring", "cone"] },
      about: "The way the plane looks, which is 1 behind it; or the axis.",
    }),
    radius: length({
      default: 1,
      min: 0,
      soft: [0, 10],
      shownWhen: { input: "form", is: ["cylinder", "ring"] },
      about: "Of the cylinder, which is 1 inside, or of the circle of a ring.",
    }),
    length: length({
      default: 0,
      min: 0,
      soft: [0, 10],
      shownWhen: { input: "form", is: ["cylinder"] },
      about: "Of the cylinder; 0 is endless.",
    }),
    opening: angle({
      default: 30,
      min: 0,
      max: 90,
      soft: [0, 90],
      shownWhen: { input: "form", is: ["cone"] },
      about: "From the axis to the side; the cone is 1 inside, and its tip is the middle.",
    }),
    inner: field.number({
      default: 0,
      soft: [0, 10],
      unit: "units",
      handle: "middle",
      about: "1 up to this distance.",
    }),
    outer: field.number({
      default: 3,
      soft: [0, 10],
      unit: "units",
      handle: "middle",
      about: "0 from this distance on.",
    }),
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
    distance: out.number("Units from the form; negative behind a plane."),
  },
  fits: { port: "distance", side: "output", low: "inner", high: "outer" },
  summary: ({ form, inner, outer, ease }) => `${form}, ${inner} to ${outer} units, ${ease}`,
  evaluate({ form, given, middle, inner, outer, ease, profile: drawn, invert, ...sizes }, context) {
    const distance =
      form === "given distance" ? given : distanceTo(form, zip("subtract", positionField(), middle), sizes);
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
