import { mergeShapes } from "../../../geometry/merge";
import { EMPTY_SHAPE } from "../../../geometry/shape";
import { patch as patched } from "../../../surfaces/patch";
import { defineNode } from "../../define";
import { integer, length, out, shape } from "../../ports";
import { pathsOf } from "./input-paths";

export const patch = defineNode({
  type: "patch",
  family: "form",
  title: "Patch",
  about:
    "A surface within closed curves that need not be flat, stretched as evenly as a film of soap, or bulging.",
  synonyms: ["membrane", "soap film", "fill", "sail", "cushion", "dome", "leaf"],
  inputs: {
    shape: shape({ about: "Closed curves." }),
    rings: integer({
      default: 8,
      min: 1,
      max: 500,
      soft: [1, 32],
      about: "Rings of faces from the outline to the middle.",
    }),
    bulge: length({ default: 0, soft: [-1, 1], about: "How far the middle stands out." }),
  },
  outputs: {
    shape: out.shape(
      "The surface, with what the curves' points carry; laid out from the outline inwards and around.",
    ),
  },
  summary: ({ rings }) => `${rings} rings`,
  cost: ({ shape, rings }) => {
    const points = (shape.curves?.points.count ?? 0) * rings;
    return { points, faces: points, milliseconds: points * rings * 0.0015 };
  },
  evaluate({ shape, rings, bulge }, context) {
    const curves = pathsOf(shape, "fill", context);
    if (!curves) return { shape: EMPTY_SHAPE };
    const meshes = patched(curves, rings, bulge);
    const left = curves.curves.count - meshes.length;
    if (left > 0)
      context.warn(
        `${left} of ${curves.curves.count} curves are open and enclose nothing. Close them to fill them.`,
        {
          input: "shape",
        },
      );
    return { shape: mergeShapes(meshes.map((mesh) => ({ mesh }))) };
  },
});
