import { mix, positionField, type VectorField } from "../../fields/expression";
import { defineNode } from "../define";
import { elementsOf, onElements, runColumn, withElements } from "../elements";
import { field, out, shape } from "../ports";

export const place = defineNode({
  type: "place",
  family: "adjust",
  title: "Place",
  about: "Puts clones (or the points of a mesh) at given places.",
  synonyms: ["move to", "arrange", "morph", "flatten", "go to"],
  inputs: {
    shape: shape({ about: "What is placed." }),
    on: onElements(),
    at: field.vector({ default: [0, 0, 0], soft: [-10, 10], about: "Where to." }),
    amount: field.number({ default: 1, soft: [0, 1], about: "How much of the way." }),
  },
  outputs: { shape: out.shape("The same, placed.") },
  overrides: ({ on, amount }) => (on === "what is there" && amount === 1 ? ["position"] : []),
  evaluate({ shape, on, at, amount }, context) {
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape };
    const target = positionField().map((p, i) => mix(p, at[i], amount)) as unknown as VectorField;
    return {
      shape: withElements(shape, elements, { position: runColumn("vector", target, elements, context) }),
    };
  },
});
