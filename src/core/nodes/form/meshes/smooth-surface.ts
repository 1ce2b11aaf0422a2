import { withKin } from "../../../geometry/across";
import { SMOOTHINGS, smoothed } from "../../../meshes/smooth";
import { defineNode } from "../../define";
import { choice, field, integer, out, shape, toggle } from "../../ports";
import { meshOf } from "./input-mesh";

export const smoothSurface = defineNode({
  type: "smooth-surface",
  family: "form",
  title: "Smooth surface",
  about: "Evens a mesh out: every point goes towards the middle of its neighbours.",
  synonyms: ["relax", "laplacian", "iron", "soften mesh", "even out", "fair", "blur shape"],
  inputs: {
    shape: shape({ about: "A mesh." }),
    rounds: integer({ default: 8, min: 0, max: 2000, soft: [0, 50], about: "How often." }),
    amount: field.number({
      default: 1,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "How much at each point; link a mask here.",
    }),
    how: choice(SMOOTHINGS, { about: "Whether it stays as large as it was." }),
    borders: toggle({ default: true, label: "keep borders", about: "Points on open borders stay." }),
  },
  outputs: { shape: out.shape("The same faces, smoother.") },
  summary: ({ rounds, how }) => `${rounds} ×, ${how}`,
  cost: ({ shape, rounds }) => ({ milliseconds: (shape.mesh?.points.count ?? 0) * rounds * 1e-4 }),
  evaluate({ shape, rounds, amount, how, borders }, context) {
    const mesh = meshOf(shape, "smooth", context);
    if (!mesh) return { shape };
    const [amounts] = context.run([amount], withKin(shape, "points"));
    return {
      shape: { ...shape, mesh: smoothed(mesh, { how, rounds, amount: amounts, keepsBorders: borders }) },
    };
  },
});
