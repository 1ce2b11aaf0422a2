import { withKin } from "../../../geometry/across";
import { thickened } from "../../../meshes/thicken";
import { defineNode } from "../../define";
import { choice, field, out, shape } from "../../ports";
import { meshOf } from "./input-mesh";

const TOWARDS = { "the front": 1, "both sides": 0.5, "the back": 0 } as const;

export const thicken = defineNode({
  type: "thicken",
  family: "form",
  title: "Thicken",
  about:
    "Gives a sheet a thickness: a second one beside it and a rim along its borders. What is closed becomes hollow.",
  synonyms: ["shell", "solid", "wall", "hollow", "solidify", "offset surface", "sheet"],
  inputs: {
    shape: shape({ about: "A mesh." }),
    thickness: field.number({ default: 0.1, soft: [0, 1], unit: "units", about: "At each point." }),
    towards: choice(["both sides", "the front", "the back"], { about: "Where the faces were before." }),
  },
  outputs: { shape: out.shape("The solid; faces have `side`: 0 the front, 1 the rim, 2 the back.") },
  summary: ({ towards }) => `to ${towards}`,
  cost: ({ shape }) => ({
    points: (shape.mesh?.points.count ?? 0) * 2,
    faces: (shape.mesh?.faces.count ?? 0) * 2,
  }),
  evaluate({ shape, thickness, towards }, context) {
    const mesh = meshOf(shape, "thicken", context);
    if (!mesh) return { shape };
    const [amounts] = context.run([thickness], withKin(shape, "points"));
    return { shape: { ...shape, mesh: thickened(mesh, amounts, TOWARDS[towards]) } };
  },
});
