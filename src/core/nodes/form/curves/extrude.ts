import { mergeShapes } from "../../../geometry/merge";
import { EMPTY_SHAPE } from "../../../geometry/shape";
import { defineNode } from "../../define";
import { field, integer, length, out, shape } from "../../ports";
import { fillRule } from "./fill-outline";
import { filledAt, filledRegions, flatOutlines } from "./outline-regions";

export const extrude = defineNode({
  type: "extrude",
  family: "form",
  title: "Extrude",
  about: "Closed curves with a depth: solids with a front, an edge and a back, holes going through.",
  synonyms: ["depth", "thick", "solid", "3d logo", "bevel", "chamfer", "push out", "raise"],
  inputs: {
    shape: shape({ about: "Closed curves that lie in a plane." }),
    depth: field.number({
      default: 0.2,
      soft: [0, 2],
      unit: "units",
      about: "From front to back; read at each curve, so that outlines may have depths of their own.",
    }),
    bevel: length({ default: 0, min: 0, soft: [0, 0.1], about: "How far edges are cut back." }),
    steps: integer({
      default: 3,
      min: 1,
      max: 32,
      soft: [1, 6],
      about: "Pieces of a cut edge; 1 is straight.",
    }),
    inside: fillRule(),
  },
  outputs: {
    shape: out.shape(
      "The solids, about the plane of the curves; faces have `side`: 0 the front, 1 the edge, 2 the back.",
    ),
  },
  summary: ({ bevel }) => (Number(bevel) > 0 ? "with cut edges" : "sharp"),
  cost: ({ shape, steps, bevel }) => {
    const points = (shape.curves?.points.count ?? 0) * (bevel > 0 ? 2 * steps + 2 : 2);
    return { points, faces: points, milliseconds: points * 0.02 };
  },
  evaluate({ shape, depth, bevel, steps, inside }, context) {
    const { curves } = shape;
    const flat = flatOutlines(curves, context);
    if (!curves || !flat) return { shape: EMPTY_SHAPE };
    const [depths] = context.run([depth], curves.curves);
    // Outlines of one depth are filled together, so that holes stay holes.
    const byDepth = new Map<number, number[]>();
    for (const [i, curve] of flat.curves.entries()) {
      const own = Math.max(0, depths[curve]);
      byDepth.set(own, [...(byDepth.get(own) ?? []), i]);
    }
    const solids = [...byDepth].map(([own, numbers]) => {
      const outlines = numbers.map((i) => flat.outlines[i]);
      return filledAt(flat.plane, filledRegions({ outlines }, inside, context), { depth: own, bevel, steps });
    });
    return { shape: mergeShapes(solids) };
  },
});
