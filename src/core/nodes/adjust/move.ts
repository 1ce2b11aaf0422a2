import { positionField, scaleBy, type VectorField, zip } from "../../fields/expression";
import { defineNode } from "../define";
import { elementsOf, onElements, runColumn, withElements } from "../elements";
import { choice, field, out, shape } from "../ports";
import { axisWeights, frameRotation, turned } from "./own-frame";

export const move = defineNode({
  type: "move",
  family: "adjust",
  title: "Move",
  about: "Shifts clones, or the points, faces or edges of a mesh.",
  synonyms: ["translate", "offset", "shift", "displace", "position", "push"],
  inputs: {
    shape: shape({ about: "What is moved." }),
    on: onElements(),
    by: field.vector({ default: [0, 1, 0], soft: [-5, 5], about: "How far along each axis." }),
    amount: field.number({ default: 1, soft: [0, 1], about: "Times the shift; link a falloff here." }),
    weights: axisWeights("How much of it each axis takes: 1 0 1 keeps the height."),
    axes: choice(["world", "own"], { about: "Along the world's axes or each clone's own." }),
  },
  keepsHandles: true,
  outputs: { shape: out.shape("The same, moved.") },
  summary: ({ by, axes }) => `${(by as number[]).join(", ")} along ${axes} axes`,
  evaluate({ shape, on, by, amount, weights, axes }, context) {
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape };
    const shift = by.map((b, i) => scaleBy(b, scaleBy(amount, weights[i]))) as unknown as VectorField;
    const inWorld = axes === "own" ? turned(frameRotation(elements), shift) : shift;
    const position = runColumn("vector", zip("add", positionField(), inWorld), elements, context);
    return { shape: withElements(shape, elements, { position }) };
  },
});
