import { withKin } from "../../../geometry/across";
import { FILLINGS, holesFilled } from "../../../meshes/fill-holes";
import { defineNode } from "../../define";
import { choice, field, integer, out, shape } from "../../ports";
import { meshOf } from "./input-mesh";

export const fillHoles = defineNode({
  type: "fill-holes",
  family: "form",
  title: "Fill holes",
  about: "Closes the open borders of a mesh with faces.",
  synonyms: ["cap", "close", "lid", "watertight", "patch holes", "make solid"],
  inputs: {
    shape: shape({ about: "A mesh." }),
    with: choice(FILLINGS, {
      about: "A face with as many corners as the border, or triangles around its middle.",
    }),
    most: integer({
      default: 0,
      min: 0,
      soft: [0, 64],
      about: "Only borders of so many edges at most; 0 for all.",
    }),
    where: field.number({
      default: 1,
      soft: [0, 1],
      about: "Only borders on whose points this is above 0.5, by the mean.",
    }),
  },
  outputs: { shape: out.shape("The mesh; faces have `side`: 1 those that are new, 0 the others.") },
  evaluate({ shape, with: how, most, where }, context) {
    const mesh = meshOf(shape, "close", context);
    if (!mesh) return { shape };
    const {
      mesh: made,
      filled,
      left,
    } = holesFilled(mesh, most, how, context.run([where], withKin({ mesh }, "points"))[0]);
    const word = filled === 1 ? "border was" : "borders were";
    context.note(`${filled} ${word} closed${left > 0 ? `, ${left} left open` : ""}.`);
    return { shape: { ...shape, mesh: made } };
  },
});
