import { transformShape } from "../../geometry/transform";
import type { Volume } from "../../geometry/volume";
import { placedVolume } from "../../volumes/resample";
import { defineNode } from "../define";
import { number, out, rotation, shape, vector } from "../ports";
import { fine } from "./volumes/input-volume";

export const transform = defineNode({
  type: "transform",
  family: "form",
  title: "Transform",
  about: "Scales, turns and moves a shape as a whole.",
  synonyms: ["move", "rotate", "scale", "place", "whole"],
  inputs: {
    shape: shape({ about: "What is placed." }),
    move: vector({ default: [0, 0, 0], soft: [-10, 10], about: "Done last." }),
    turn: rotation({ about: "About the origin, after scaling." }),
    scale: vector({ default: [1, 1, 1], soft: [0, 4], unit: "×", about: "Done first, from the origin." }),
    size: number({ default: 1, soft: [0, 4], unit: "×", about: "Along all axes." }),
  },
  keepsHandles: true,
  outputs: { shape: out.shape("The same, placed.") },
  summary: ({ move, turn }) =>
    `to ${(move as number[]).join(", ")}, turned ${(turn as number[]).join("°, ")}°`,
  evaluate({ shape, move, turn, scale, size }, context) {
    const placement = { move, turn, scale: [scale[0] * size, scale[1] * size, scale[2] * size] as const };
    const placed = transformShape(shape, placement);
    if (!shape.volume) return { shape: placed };
    if (placement.scale.includes(0)) {
      context.warn("A volume cannot be made flat, so it is left out.", { input: "scale" });
      const { volume: _flat, ...others } = placed;
      return { shape: others };
    }
    return {
      shape: { ...placed, volume: fine(() => placedVolume(shape.volume as Volume, placement), "size") },
    };
  },
});
