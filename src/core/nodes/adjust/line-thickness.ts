import { apply, constant } from "../../fields/expression";
import { THICKNESS } from "../../geometry/thickness";
import { defineNode } from "../define";
import { elementsOf, onElements, runColumn, withElements } from "../elements";
import { field, out, shape } from "../ports";

export const lineThickness = defineNode({
  type: "line-thickness",
  family: "adjust",
  title: "Line thickness",
  about: "How thick lines and bare sites are drawn, at each point of them.",
  synonyms: ["width", "stroke weight", "thick", "pen", "taper", "hairline", "dot size", "bold"],
  inputs: {
    shape: shape({ about: "Lines or sites." }),
    on: onElements(["sites", "curve points"]),
    thickness: field.number({
      default: 0.05,
      min: 0,
      soft: [0, 0.5],
      unit: "units",
      about: "Units across; 0 draws as fine a line as there is, however near.",
    }),
  },
  outputs: { shape: out.shape("The same, with `thickness`; it is the same on the stage from everywhere.") },
  summary: ({ on }) => (on === "what is there" ? "" : `of ${on}`),
  overrides: () => [THICKNESS],
  evaluate({ shape, on, thickness }, context) {
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape };
    if (elements.on === "points" || (elements.on === "sites" && shape.sources?.length))
      context.warn("Only lines and sites without a shape are drawn by a thickness.", { input: "shape" });
    const across = apply("maximum", [thickness, constant(0)]);
    return {
      shape: withElements(shape, elements, { [THICKNESS]: runColumn("number", [across], elements, context) }),
    };
  },
});
