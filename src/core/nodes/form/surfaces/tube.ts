import { EMPTY_SHAPE } from "../../../geometry/shape";
import { begunAt, roundSection } from "../../../surfaces/section";
import { sweep } from "../../../surfaces/sweep";
import { defineNode } from "../../define";
import { field, integer, number, out, shape, toggle } from "../../ports";
import { pathsOf } from "./input-paths";
import { degrees } from "./roll";

export const tube = defineNode({
  type: "tube",
  family: "form",
  title: "Tube",
  about:
    "A skin around curves, as thick at each of their points as asked, that turns only by its roll and their `tilt`.",
  synonyms: ["pipe", "sweep", "thicken", "cable", "rope", "stem", "line to mesh", "width"],
  inputs: {
    shape: shape({ about: "Curves." }),
    radius: field.number({
      default: 0.05,
      min: 0,
      soft: [0, 0.5],
      unit: "units",
      about:
        "From the curve to the skin, at each of its points; times their attribute `radius`, if they have it.",
    }),
    sides: integer({ default: 10, min: 3, max: 256, soft: [3, 32], about: "Faces around." }),
    roll: field.angle({ default: 0, about: "Turns the skin about the curve, at each of its points." }),
    caps: toggle({ default: true, about: "Closes the ends of open curves." }),
    seam: number({
      default: 0,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "Where around it a picture begins and ends, as a part of the whole way round.",
    }),
  },
  outputs: {
    shape: out.shape("The mesh, with what the curves' points carry; laid out for pictures along and around."),
  },
  summary: ({ sides, radius }) => `${sides} sides, ${radius} units`,
  cost: ({ shape, sides }) => {
    const points = (shape.curves?.points.count ?? 0) * sides;
    return { points, faces: points };
  },
  evaluate({ shape, radius, sides, roll, caps, seam }, context) {
    const curves = pathsOf(shape, "put a skin around", context);
    if (!curves) return { shape: EMPTY_SHAPE };
    const [size, turn] = context.run([radius, roll], curves.points);
    const sections = [begunAt(roundSection(sides), seam)];
    const mesh = sweep(curves, { sections, size, roll: degrees(turn), caps });
    return { shape: mesh ? { mesh } : EMPTY_SHAPE };
  },
});
