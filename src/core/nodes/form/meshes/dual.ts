import { dualOf } from "../../../meshes/dual";
import { defineNode } from "../../define";
import { out, shape } from "../../ports";
import { meshOf } from "./input-mesh";

export const dual = defineNode({
  type: "dual",
  family: "form",
  title: "Dual",
  about: "Faces become points and points become faces: a ball of triangles becomes one of hexagons.",
  synonyms: ["hexagons", "honeycomb", "football", "swap faces and points", "pentagons", "cells"],
  inputs: { shape: shape({ about: "A mesh." }) },
  outputs: { shape: out.shape("The dual; open borders keep their outline.") },
  cost: ({ shape }) => ({ points: shape.mesh?.faces.count ?? 0, faces: shape.mesh?.points.count ?? 0 }),
  evaluate({ shape }, context) {
    const mesh = meshOf(shape, "swap", context);
    return { shape: mesh ? { ...shape, mesh: dualOf(mesh) } : shape };
  },
});
