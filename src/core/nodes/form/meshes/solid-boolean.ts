import { EMPTY_SHAPE } from "../../../geometry/shape";
import { combinedSolids, SOLID_BOOLEANS } from "../../../solids/boolean";
import { SOLIDS } from "../../../solids/solid";
import { defineNode } from "../../define";
import { choice, out, shape } from "../../ports";
import { meshOf } from "./input-mesh";
import { mustBeSolid } from "./must-be-solid";

export const solidBoolean = defineNode({
  type: "solid-boolean",
  family: "form",
  title: "Solid boolean",
  about: "Two solids as one, one cut out of the other, or what they have in common.",
  synonyms: ["union", "subtract", "intersect", "cut out", "carve", "combine", "csg", "merge solids", "drill"],
  inputs: {
    shape: shape({ about: "A closed mesh." }),
    other: shape({ about: "Another one." }),
    how: choice(SOLID_BOOLEANS, { default: "difference", about: "What is kept." }),
  },
  outputs: {
    shape: out.shape(
      "The solid, in triangles, with what both carry; faces have `side`: 0 those of the first, 1 those of the other.",
    ),
  },
  needs: [SOLIDS],
  summary: ({ how }) => String(how),
  cost: ({ shape, other }) => {
    const faces = (shape.mesh?.corners.count ?? 0) + (other.mesh?.corners.count ?? 0);
    return { points: faces, faces, milliseconds: faces * 0.006 };
  },
  evaluate({ shape, other, how }, context) {
    const first = meshOf(shape, "combine", context);
    const second = meshOf(other, "combine it with", context, "other");
    if (!first || !second) return { shape: first || how === "union" ? (first ? shape : other) : EMPTY_SHAPE };
    mustBeSolid(first, "What arrives", "shape");
    mustBeSolid(second, "The other one", "other");
    const mesh = combinedSolids(first, second, how);
    if (mesh.faces.count > 0) return { shape: { mesh } };
    context.note("Nothing is left of them.");
    return { shape: EMPTY_SHAPE };
  },
});
