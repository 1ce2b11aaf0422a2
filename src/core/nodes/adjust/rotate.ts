import { positionField, zip } from "../../fields/expression";
import { defineNode } from "../define";
import { choice, field, out, shape } from "../ports";
import {
  axisWeights,
  composed,
  elementsOf,
  ownRotation,
  partOf,
  runColumn,
  turned,
  withElements,
} from "./elements";

export const rotate = defineNode({
  type: "rotate",
  family: "adjust",
  title: "Rotate",
  about: "Turns each clone where it stands (or the points of a mesh about a pivot).",
  synonyms: ["turn", "spin", "twist", "orient", "angle"],
  inputs: {
    shape: shape({ about: "What is turned." }),
    turn: field.rotation({ about: "By how much; a vector of angles may be linked." }),
    amount: field.number({
      default: 1,
      soft: [0, 1],
      about: "Times the angles, also those of several turns; link a falloff here.",
    }),
    weights: axisWeights("How much of it each axis takes: 0 1 0 only turns about Y."),
    axes: choice(["own", "world"], { about: "About each clone's own axes or the world's." }),
    pivot: field.vector({
      default: [0, 0, 0],
      soft: [-5, 5],
      about: "Where mesh points turn about; clones turn about themselves.",
    }),
  },
  outputs: { shape: out.shape("The same, turned.") },
  summary: ({ turn, axes }) => `${(turn as number[]).map((t) => `${t}°`).join(", ")} about ${axes} axes`,
  evaluate({ shape, turn, amount, weights, axes, pivot }, context) {
    const elements = elementsOf(shape, context);
    if (!elements) return { shape };
    const part = partOf(turn, amount, weights);
    if (elements.on === "sites") {
      const result = axes === "own" ? composed(ownRotation(), part) : composed(part, ownRotation());
      const rotation = runColumn("rotation", result, elements, context);
      return { shape: withElements(shape, elements, { rotation }) };
    }
    const around = zip("add", turned(part, zip("subtract", positionField(), pivot)), pivot);
    return {
      shape: withElements(shape, elements, { position: runColumn("vector", around, elements, context) }),
    };
  },
});
