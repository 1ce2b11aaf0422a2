import { constant } from "../../../fields/expression";
import { countUp } from "../../../geometry/column";
import { mergeShapes } from "../../../geometry/merge";
import { connectedParts, framesOfParts, partMeshes, takenApart } from "../../../meshes/parts";
import { defineNode } from "../../define";
import { choice, out, shape } from "../../ports";
import { meshOf } from "./input-mesh";
import { clonesOfParts } from "./part-clones";

export const splitFaces = defineNode({
  type: "split-faces",
  family: "form",
  title: "Split faces",
  about:
    "Takes a mesh apart, so that its faces or parts can be moved, turned and scaled each about its own middle.",
  synonyms: ["explode", "separate", "detach", "shards", "apart", "islands", "pieces", "connectivity"],
  inputs: {
    shape: shape({ about: "A mesh." }),
    into: choice(["faces", "parts that hang together"], { about: "What is one piece." }),
    as: choice(["one mesh", "clones"], {
      about:
        "Still one mesh, whose faces share no points any more, or a clone for each piece that everything for clones can drive.",
    }),
  },
  outputs: {
    shape: out.shape(
      "The pieces; `part` is the number of each. Faces and points of one mesh have `middle` and `facing` of their piece besides; clones face along z.",
    ),
    count: out.number("How many pieces."),
  },
  summary: ({ into, as }) => `${into}, ${as}`,
  cost: ({ shape, into, as }) => {
    const { corners, faces } = shape.mesh ?? { corners: { count: 0 }, faces: { count: 0 } };
    const pieces = into === "faces" ? faces.count : 1;
    return {
      points: corners.count,
      faces: faces.count,
      ...(as === "clones" ? { sites: pieces, bytes: pieces * 4000 } : {}),
    };
  },
  evaluate({ shape, into, as }, context) {
    const mesh = meshOf(shape, "split", context);
    if (!mesh) return { shape, count: constant(0) };
    const { of, count } =
      into === "faces" ? { of: countUp(mesh.faces.count), count: mesh.faces.count } : connectedParts(mesh);
    if (as === "one mesh")
      return { shape: { ...shape, mesh: takenApart(mesh, of, count) }, count: constant(count) };
    const frames = framesOfParts(mesh, of, count);
    const pieces = clonesOfParts(partMeshes(mesh, of, frames), frames);
    const { mesh: _split, ...rest } = shape;
    return { shape: mergeShapes([rest, pieces]), count: constant(count) };
  },
});
