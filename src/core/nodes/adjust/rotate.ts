import { positionField, zip } from "../../fields/expression";
import { type Quaternion, rotate as rotated } from "../../maths/quaternion";
import { defineNode } from "../define";
import { changedAboutMiddles, elementsOf, isPlaced, onWholes, runColumn, withElements } from "../elements";
import { choice, field, out, shape } from "../ports";
import { axisWeights, composed, ownRotation, partOf, turned } from "./own-frame";

export const rotate = defineNode({
  type: "rotate",
  family: "adjust",
  title: "Rotate",
  about: "Turns each clone, face or curve where it stands (or the points of a mesh about a pivot).",
  synonyms: ["turn", "spin", "twist", "orient", "angle"],
  inputs: {
    shape: shape({ about: "What is turned." }),
    on: onWholes(),
    turn: field.rotation({ about: "By how much; a vector of angles may be linked." }),
    amount: field.number({
      default: 1,
      soft: [0, 1],
      about: "Times the angles, also those of several turns; link a falloff here.",
    }),
    weights: axisWeights("How much of it each axis takes: 0 1 0 only turns about Y."),
    axes: choice(["own", "world"], {
      about: "About each clone's own axes or the world's; all else turns about the world's.",
    }),
    pivot: field.vector({
      default: [0, 0, 0],
      soft: [-5, 5],
      about: "Where points turn about; all else turns about itself.",
    }),
  },
  outputs: { shape: out.shape("The same, turned.") },
  summary: ({ turn, axes }) => `${(turn as number[]).map((t) => `${t}°`).join(", ")} about ${axes} axes`,
  evaluate({ shape, on, turn, amount, weights, axes, pivot }, context) {
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape };
    const part = partOf(turn, amount, weights);
    if (elements.on === "sites") {
      const result = axes === "own" ? composed(ownRotation(), part) : composed(part, ownRotation());
      const rotation = runColumn("rotation", result, elements, context);
      return { shape: withElements(shape, elements, { rotation }) };
    }
    if (!isPlaced(elements.on)) {
      const lanes = context.run(part, elements.domain);
      const turnOf = (i: number): Quaternion => [lanes[0][i], lanes[1][i], lanes[2][i], lanes[3][i]];
      return { shape: changedAboutMiddles(shape, elements, (i, offset) => rotated(turnOf(i), offset)) };
    }
    const around = zip("add", turned(part, zip("subtract", positionField(), pivot)), pivot);
    return {
      shape: withElements(shape, elements, { position: runColumn("vector", around, elements, context) }),
    };
  },
});
