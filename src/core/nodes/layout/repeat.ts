import { tick } from "../../cancelling";
import { shapeBounds } from "../../geometry/bounds";
import { mergeShapes } from "../../geometry/merge";
import { isFilled, type Shape, timesTally } from "../../geometry/shape";
import { type Placement, transformShape } from "../../geometry/transform";
import { fromEuler, type MutableQuaternion, multiply, RADIANS, rotate } from "../../maths/quaternion";
import type { Vec3 } from "../../maths/vector";
import { defineNode } from "../define";
import { choice, integer, out, shape, vector } from "../ports";

export const repeat = defineNode({
  type: "repeat",
  family: "layout",
  title: "Repeat",
  about: "Copies of a whole layout or shape, each a step further than the one before.",
  synonyms: ["array", "stack", "steps", "copies", "duplicate", "stairs"],
  inputs: {
    shape: shape({ about: "What is repeated." }),
    count: integer({ default: 3, min: 0, soft: [1, 24], about: "How many in all." }),
    step: vector({
      default: [2, 0, 0],
      soft: [-10, 10],
      about: "From one copy to the next, in the frame of the one before.",
    }),
    turn: vector({
      default: [0, 0, 0],
      soft: [-90, 90],
      unit: "°",
      about: "Turn from one copy to the next, about X, Y and Z.",
    }),
    counted: choice(["units", "its own size"], {
      about: "Whether the step is in units, or in sizes of what is repeated: 0 1 0 stacks it.",
    }),
    scale: vector({ default: [1, 1, 1], soft: [0, 2], unit: "×", about: "Size from one copy to the next." }),
  },
  outputs: { shape: out.shape("All copies as one.") },
  summary: ({ count }) => `${count} in all`,
  cost: ({ shape, count }) => timesTally([shape], count),
  evaluate({ shape, count, step, counted, turn, scale }, context) {
    if (!isFilled(shape)) context.warn("Nothing arrives, so there is nothing to repeat.", { input: "shape" });
    const one = fromEuler(turn[0] * RADIANS, turn[1] * RADIANS, turn[2] * RADIANS, [0, 0, 0, 1]);
    const bounds = counted === "its own size" ? shapeBounds(shape) : null;
    const ahead = step.map((s, a) => s * (bounds ? bounds.max[a] - bounds.min[a] : 1));
    const copies: Shape[] = [];
    let at: Placement = { move: [0, 0, 0], turn: [0, 0, 0, 1], scale: [1, 1, 1] };
    for (let i = 0; i < count; i++) {
      tick();
      copies.push(i === 0 ? shape : transformShape(shape, at));
      const next: MutableQuaternion = [0, 0, 0, 1];
      const further = rotate(at.turn, ahead.map((s, a) => s * at.scale[a]) as unknown as Vec3);
      at = {
        move: [at.move[0] + further[0], at.move[1] + further[1], at.move[2] + further[2]],
        turn: multiply(at.turn, one, next),
        scale: [at.scale[0] * scale[0], at.scale[1] * scale[1], at.scale[2] * scale[2]],
      };
    }
    return { shape: mergeShapes(copies) };
  },
});
