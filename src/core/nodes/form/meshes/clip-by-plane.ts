import { dot, normalise } from "../../../maths/vector";
import { clipped } from "../../../meshes/clip";
import { solidCut } from "../../../solids/cut";
import { faultOf, SOLIDS } from "../../../solids/solid";
import { defineNode } from "../../define";
import { out, shape, toggle, vector } from "../../ports";
import { meshOf } from "./input-mesh";

export const clipByPlane = defineNode({
  type: "clip-by-plane",
  family: "form",
  title: "Clip by plane",
  about: "Cuts a mesh off at a plane and closes the cut.",
  synonyms: ["slice", "cut", "section", "trim", "half", "cross-section", "bisect", "reveal inside"],
  inputs: {
    shape: shape({ about: "A mesh." }),
    place: vector({ default: [0, 0, 0], soft: [-5, 5], handle: "place", about: "A place on the plane." }),
    towards: vector({
      default: [0, 1, 0],
      soft: [-1, 1],
      about: "Which way it faces; what lies on that side stays.",
    }),
    close: toggle({ default: true, about: "Puts faces on the cut, where the mesh is closed." }),
  },
  outputs: {
    shape: out.shape("What is left; where the cut is closed, in triangles whose `side` is 1 there."),
  },
  needs: [SOLIDS],
  cost: ({ shape }) => ({ milliseconds: (shape.mesh?.corners.count ?? 0) * 0.004 }),
  evaluate({ shape, place, towards, close }, context) {
    const mesh = meshOf(shape, "cut", context);
    if (!mesh) return { shape };
    const facing = normalise(towards);
    if (dot(facing, facing) === 0) {
      context.warn("The plane faces nowhere, so nothing is cut.", { input: "towards" });
      return { shape };
    }
    const fault = close ? faultOf(mesh) : null;
    if (fault) context.note(`The cut stays open: the mesh ${fault}`);
    const offset = dot(place, facing);
    const made = close && !fault ? solidCut(mesh, facing, offset) : clipped(mesh, facing, offset);
    const { mesh: _whole, ...rest } = shape;
    if (made.faces.count > 0) return { shape: { ...shape, mesh: made } };
    context.note("Nothing lies on that side.");
    return { shape: rest };
  },
});
