import { shapeBounds } from "../../../geometry/bounds";
import { PROJECTIONS, projectedUvs } from "../../../meshes/uvs/project";
import { defineNode } from "../../define";
import { choice, out, shape, vector } from "../../ports";
import { meshOf } from "./input-mesh";

const AXES = { x: 0, y: 1, z: 2 } as const;

export const projectUvs = defineNode({
  type: "project-uvs",
  family: "form",
  title: "Project UVs",
  about: "Lays a mesh out for pictures by looking at it: from one side, from six, or from all around.",
  synonyms: [
    "texture coordinates",
    "planar",
    "box mapping",
    "cylinder mapping",
    "wrap picture",
    "label",
    "lay out",
  ],
  inputs: {
    shape: shape({ about: "A mesh." }),
    how: choice(PROJECTIONS, { default: "box", about: "What the picture lies on, around the mesh." }),
    axis: choice(["x", "y", "z"], {
      default: "y",
      shownWhen: { input: "how", is: ["from one side", "cylinder", "ball"] },
      about: "Which way it is looked, or what stands in the middle of the cylinder or ball.",
    }),
    size: vector({
      default: [1, 1, 1],
      min: 1e-6,
      soft: [0.1, 4],
      unit: "×",
      about: "Of the picture against the mesh, about its middle.",
    }),
  },
  outputs: { shape: out.shape("The same, with `uv` on corners and points.") },
  summary: ({ how, axis }) => (how === "box" ? "box" : `${how}, ${axis}`),
  cost: ({ shape }) => ({ milliseconds: (shape.mesh?.corners.count ?? 0) * 0.0006 }),
  evaluate({ shape, how, axis, size }, context) {
    const mesh = meshOf(shape, "lay out", context);
    const bounds = mesh && shapeBounds({ mesh });
    if (!mesh || !bounds) return { shape };
    const [min, max] = [0, 1].map((end) =>
      [0, 1, 2].map((a) => {
        const [low, high] = [bounds.min[a], bounds.max[a]];
        return (low + high) / 2 + (end - 0.5) * (high - low) * size[a];
      }),
    );
    return { shape: { ...shape, mesh: projectedUvs(mesh, { how, axis: AXES[axis], min, max }) } };
  },
});
