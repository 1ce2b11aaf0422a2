import { makeColumn } from "../../geometry/column";
import { packedInk } from "../../geometry/surface-look";
import { defineNode } from "../define";
import { elementsOf, onElements, runColumn, withElements } from "../elements";
import { field, out, shape } from "../ports";

export const lineAround = defineNode({
  type: "line-around",
  family: "dress",
  title: "Line around",
  about: "How wide the line around each clone is, and in which colour, where the Stage draws such lines.",
  synonyms: ["outline", "silhouette", "contour", "stroke", "ink", "border", "cartoon line"],
  inputs: {
    shape: shape({ about: "Clones, sites or a mesh." }),
    on: onElements(["sites", "points"]),
    width: field.number({
      default: 1,
      min: 0,
      soft: [0, 4],
      unit: "×",
      about: "Times the Stage's outline; 0 draws none around it.",
    }),
    color: field.color({ default: "#f0b03a", about: "In which colour." }),
  },
  outputs: { shape: out.shape("The same, with lines of its own.") },
  overrides: () => ["outline", "ink"],
  evaluate({ shape, on, width, color }, context) {
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape };
    if (elements.on === "curve points") {
      context.warn("Lines are drawn around clones and meshes, not around curves.", { input: "shape" });
      return { shape };
    }
    const { lanes } = runColumn("color", color, elements, context);
    const ink = Float32Array.from(lanes[0], (_, i) => packedInk(lanes.map((lane) => lane[i])));
    return {
      shape: withElements(shape, elements, {
        outline: runColumn("number", [width], elements, context),
        ink: makeColumn("number", [ink]),
      }),
    };
  },
});
