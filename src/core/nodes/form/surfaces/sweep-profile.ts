import { EMPTY_SHAPE } from "../../../geometry/shape";
import { begunAt, sectionsOf } from "../../../surfaces/section";
import { sweep } from "../../../surfaces/sweep";
import { defineNode } from "../../define";
import { field, number, out, shape, toggle } from "../../ports";
import { pathsOf } from "./input-paths";
import { degrees } from "./roll";

export const sweepProfile = defineNode({
  type: "sweep-profile",
  family: "form",
  title: "Sweep profile",
  about:
    "Draws an outline along curves: rails, ribbons, frames, petals. Several outlines go over into each other on the way.",
  synonyms: ["sweep", "extrude along", "rail", "ribbon", "moulding", "cross-section", "frame", "follow path"],
  inputs: {
    shape: shape({ about: "The curves along which it goes." }),
    profile: shape({
      about:
        "One outline or several, as they lie about the origin in a plane of their own; closed ones make tubes, open ones bands.",
    }),
    size: field.number({
      default: 1,
      soft: [0, 2],
      unit: "×",
      about: "Of the outline, at each point of the curves; times their `radius`.",
    }),
    roll: field.angle({ default: 0, about: "Turns it about the curve, at each point." }),
    caps: toggle({ default: true, about: "Closes the ends of open curves." }),
    seam: number({
      default: 0,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "Where around a closed outline a picture begins and ends.",
    }),
  },
  outputs: {
    shape: out.shape("The mesh, with what the curves' points carry; laid out for pictures along and around."),
  },
  cost: ({ shape, profile }) => {
    const points = (shape.curves?.points.count ?? 0) * (profile.curves?.points.count ?? 0);
    return { points, faces: points, milliseconds: points * 0.001 };
  },
  evaluate({ shape, profile, size, roll, caps, seam }, context) {
    const curves = pathsOf(shape, "sweep along", context);
    const outlines = pathsOf(profile, "sweep", context, "profile");
    const sections = outlines ? sectionsOf(outlines).map((section) => begunAt(section, seam)) : [];
    if (!curves || sections.length === 0) return { shape: EMPTY_SHAPE };
    const [sizes, turn] = context.run([size, roll], curves.points);
    const mesh = sweep(curves, { sections, size: sizes, roll: degrees(turn), caps });
    return { shape: mesh ? { mesh } : EMPTY_SHAPE };
  },
});
