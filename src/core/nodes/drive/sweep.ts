import {
  add,
  apply,
  clamp,
  constant,
  constants,
  divide,
  dotProduct,
  positionField,
  scaleBy,
  subtract,
  type Value,
  zip,
} from "../../fields/expression";
import { EASES } from "../../maths/ease";
import { RADIANS } from "../../maths/quaternion";
import { besides } from "../../maths/vector";
import { defineNode } from "../define";
import { angle, choice, field, out, toggle, vector } from "../ports";

/** Angles arrive in radians. */
const ROUND = 2 * Math.PI;
const TINY = 1e-6;

export const sweep = defineNode({
  type: "sweep",
  family: "drive",
  title: "Angle around",
  about: "A hand that goes round an axis: 1 where it has been, 0 ahead of it, and a slope between.",
  synonyms: ["sweep", "angle falloff", "radar", "fan", "sector", "pie", "clock hand", "around", "angular"],
  inputs: {
    middle: field.vector({
      default: [0, 0, 0],
      soft: [-10, 10],
      handle: "place",
      about: "Where the axis passes.",
    }),
    facing: vector({
      default: [0, 1, 0],
      soft: [-1, 1],
      unit: "",
      handle: "middle",
      about: "The axis; the hand goes round it by the right-hand rule.",
    }),
    begin: angle({ default: 0, about: "Where the hand starts: 0 is +x round an upright axis." }),
    swept: field.angle({
      default: 90,
      soft: [0, 360],
      about: "How far it has gone; key it from 0 to 360. Less than 0 goes the other way round.",
    }),
    soft: field.angle({ default: 20, min: 0, soft: [0, 180], about: "The slope ahead of the hand." }),
    trail: toggle({
      default: false,
      about: "Fade behind the hand too: 1 at the hand, 0 where it started.",
    }),
    ease: choice(EASES, { default: "smooth", about: "The slope ahead." }),
  },
  outputs: {
    value: out.number("0 to 1."),
    angle: out.number("Degrees from the start, 0 to 360, the way the hand goes."),
  },
  summary: ({ swept }) => `${swept}° round`,
  evaluate({ middle, facing, begin, swept, soft, trail, ease }) {
    const offset = zip("subtract", positionField(), middle);
    const [across, up] = besides(facing).map((axis) => dotProduct(offset, constants(axis)));
    const turned = apply("arcTangent2", [up, across]);
    const ahead = scaleBy(subtract(turned, constant(begin)), apply("sign", [swept]));
    const round = apply("modulo", [ahead, constant(ROUND)]);
    const gone = apply("minimum", [apply("absolute", [swept]), constant(ROUND)]);
    // Ahead of the hand, or behind its start: whichever is nearer.
    const left = apply("minimum", [subtract(round, gone), subtract(constant(ROUND), round)]);
    const slope = subtract(constant(1), divide(left, apply("maximum", [soft, constant(TINY)])));
    const near = apply("ease", [clamp(slope, constant(0), constant(1))], { key: ease, ease });
    const degrees = scaleBy(round, constant(1 / RADIANS));
    const started = subtract(constant(1), apply("less", [gone, constant(TINY)]));
    const edge = scaleBy(near, started);
    if (!trail) return { value: edge, angle: degrees };
    const behind = apply("less", [round, add(gone, constant(TINY))]);
    return { value: faded(edge, behind, divide(round, gone)), angle: degrees };
  },
});

/** What lies behind the hand by how near the hand it is; the slope ahead as it is. */
const faded = (edge: Value, behind: Value, share: Value): Value =>
  scaleBy(edge, apply("mix", [constant(1), share, behind]));
