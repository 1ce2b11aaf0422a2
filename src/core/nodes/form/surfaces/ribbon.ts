import { EMPTY_SHAPE } from "../../../geometry/shape";
import { ribbons } from "../../../surfaces/ribbon";
import { defineNode } from "../../define";
import { field, out, shape } from "../../ports";
import { pathsOf } from "./input-paths";

export const ribbon = defineNode({
  type: "ribbon",
  family: "form",
  title: "Ribbon",
  about: "Flat strips along curves, as wide at each point as asked, that look one way or by a field.",
  synonyms: ["strip", "band", "tape", "streamer", "trail surface", "blade", "grass"],
  inputs: {
    shape: shape({ about: "Curves." }),
    width: field.number({
      default: 0.1,
      min: 0,
      soft: [0, 1],
      unit: "units",
      about: "From side to side, at each point; times its attribute `radius`, if it has one.",
    }),
    facing: field.vector({
      default: [0, 1, 0],
      soft: [-1, 1],
      unit: "",
      about:
        "Which way the strip looks, as far as the curve lets it. What should look at the camera is a line with a thickness instead.",
    }),
  },
  outputs: {
    shape: out.shape("The mesh, with what the curves' points carry; laid out for pictures along and across."),
  },
  summary: ({ width }) => `${width} units wide`,
  cost: ({ shape }) => ({
    points: (shape.curves?.points.count ?? 0) * 2,
    faces: shape.curves?.points.count ?? 0,
  }),
  evaluate({ shape, width, facing }, context) {
    const curves = pathsOf(shape, "make a strip along", context);
    if (!curves) return { shape: EMPTY_SHAPE };
    const [wide, ...look] = context.run([width, ...facing], curves.points);
    const mesh = ribbons(curves, wide, look);
    return { shape: mesh ? { mesh } : EMPTY_SHAPE };
  },
});
