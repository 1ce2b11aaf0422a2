import { flatByUvs } from "../../../meshes/uvs/flat";
import { defineNode } from "../../define";
import { out, shape } from "../../ports";
import { meshOf } from "./input-mesh";

export const layUvsFlat = defineNode({
  type: "lay-uvs-flat",
  family: "form",
  title: "Lay UVs flat",
  about:
    "Shows a mesh as it lies on its picture: every face where its UVs put it, to look at or to go on with.",
  synonyms: ["uv view", "uv editor", "texture space", "islands", "flat view", "unfold"],
  inputs: { shape: shape({ about: "A mesh with UVs." }) },
  outputs: {
    shape: out.shape("The faces, flat: a picture's side is 1, its middle at the origin, facing z."),
  },
  evaluate({ shape }, context) {
    const mesh = meshOf(shape, "lay flat", context);
    if (!mesh) return { shape };
    const made = flatByUvs(mesh);
    if (!made) {
      context.warn('The mesh has no UVs. Put "Unwrap" or "Project UVs" before it.', { input: "shape" });
      return { shape };
    }
    return { shape: { ...shape, mesh: made } };
  },
});
