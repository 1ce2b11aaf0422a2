import { FILL_RULES } from "../../../geometry/outlines";
import { EMPTY_SHAPE } from "../../../geometry/shape";
import { defineNode } from "../../define";
import { choice, out, shape } from "../../ports";
import { filledAt, filledRegions, flatOutlines } from "./outline-regions";

export const fillRule = () =>
  choice(FILL_RULES, {
    label: "inside",
    about:
      "What counts as inside where outlines lie in each other: where they wind around it, every other layer, or all of it.",
  });

export const fillOutline = defineNode({
  type: "fill-outline",
  family: "form",
  title: "Fill outline",
  about: "Flat faces within closed curves, holes left open; curves may cross themselves.",
  synonyms: ["fill", "cap", "surface from curve", "patch", "holes", "flat"],
  inputs: {
    shape: shape({ about: "Closed curves that lie in a plane." }),
    inside: fillRule(),
  },
  outputs: { shape: out.shape("The filled faces, facing out of the plane.") },
  summary: ({ inside }) => String(inside),
  cost: ({ shape }) => {
    const points = shape.curves?.points.count ?? 0;
    return { points, faces: points, milliseconds: points * 0.02 };
  },
  evaluate({ shape, inside }, context) {
    const flat = flatOutlines(shape.curves, context);
    if (!flat) return { shape: EMPTY_SHAPE };
    const regions = filledRegions(flat, inside, context);
    return { shape: filledAt(flat.plane, regions, { depth: 0, bevel: 0, steps: 1 }) };
  },
});
