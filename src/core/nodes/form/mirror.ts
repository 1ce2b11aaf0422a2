import { mergeShapes } from "../../geometry/merge";
import { isFilled, type Shape, timesTally } from "../../geometry/shape";
import { type Placement, transformShape } from "../../geometry/transform";
import { IDENTITY } from "../../maths/quaternion";
import { defineNode } from "../define";
import { choice, length, out, shape, toggle } from "../ports";

const AXIS = { x: 0, y: 1, z: 2 } as const;

export const mirror = defineNode({
  type: "mirror",
  family: "form",
  title: "Mirror",
  about: "The other side of a shape, as seen in a mirror across an axis.",
  synonyms: ["flip", "symmetry", "reflect", "symmetric"],
  inputs: {
    shape: shape({ about: "What is mirrored." }),
    across: choice(["x", "y", "z"], { about: "The axis the mirror stands across." }),
    at: length({ default: 0, soft: [-5, 5], about: "Where on that axis." }),
    keep: toggle({ default: true, about: "Keep the original beside its mirror image." }),
  },
  outputs: { shape: out.shape("Both sides, or only the mirrored one.") },
  summary: ({ across }) => `across ${across}`,
  cost: ({ shape, keep }) => timesTally([shape], keep ? 2 : 1),
  evaluate({ shape, across, at, keep }, context) {
    if (!isFilled(shape)) context.warn("Nothing arrives, so there is nothing to mirror.", { input: "shape" });
    const mirrored = reflected(shape, AXIS[across], at);
    return { shape: keep ? mergeShapes([shape, mirrored]) : mirrored };
  },
});

function reflected(shape: Shape, axis: number, at: number): Shape {
  const [move, scale] = [
    [0, 0, 0],
    [1, 1, 1],
  ];
  move[axis] = 2 * at;
  scale[axis] = -1;
  return transformShape(shape, { move, turn: IDENTITY, scale } as unknown as Placement);
}
