import { turnsOf } from "../../fields/turns";
import { defineNode } from "../define";
import { field, out } from "../ports";

export const angles = defineNode({
  type: "angles",
  family: "drive",
  title: "Angles",
  about: "A rotation from three angles, applied about Z first, then Y, then X.",
  synonyms: ["rotation", "euler", "turn", "degrees", "pitch", "roll"],
  inputs: {
    x: field.angle({ default: 0, about: "About the X axis." }),
    y: field.angle({ default: 0, about: "About the Y axis." }),
    z: field.angle({ default: 0, about: "About the Z axis." }),
  },
  outputs: { rotation: out.rotation("The rotation.") },
  summary: ({ x, y, z }) => `${x}°, ${y}°, ${z}°`,
  evaluate: ({ x, y, z }) => ({ rotation: turnsOf([x, y, z]) }),
});
