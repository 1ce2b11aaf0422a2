import { apply, clamp, constant, plainNumber } from "../../fields/expression";
import type { Column } from "../../geometry/column";
import { ROUNDNESS, THICKNESS } from "../../geometry/thickness";
import { defineNode } from "../define";
import { elementsOf, onElements, runColumn, withElements } from "../elements";
import { field, out, shape } from "../ports";

export const lineThickness = defineNode({
  type: "line-thickness",
  family: "adjust",
  title: "Line thickness",
  about: "How thick lines and bare sites are drawn, at each point of them.",
  synonyms: [
    "width",
    "stroke weight",
    "thick",
    "pen",
    "taper",
    "hairline",
    "dot size",
    "bold",
    "ball",
    "sphere sprite",
  ],
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
    roundness: field.number({
      default: 0,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "Of bare sites: 0 is a flat disc as bright as its colour, 1 a ball in the light of the stage.",
    }),
  },
  outputs: { shape: out.shape("The same, with `thickness`; it is the same on the stage from everywhere.") },
  summary: ({ on }) => (on === "what is there" ? "" : `of ${on}`),
  overrides: () => [THICKNESS],
  evaluate({ shape, on, thickness, roundness }, context) {
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape };
    if (elements.on === "points" || (elements.on === "sites" && shape.sources?.length))
      context.warn("Only lines and sites without a shape are drawn by a thickness.", { input: "shape" });
    const across = apply("maximum", [thickness, constant(0)]);
    const columns: Record<string, Column> = {
      [THICKNESS]: runColumn("number", [across], elements, context),
    };
    if (elements.on === "sites" && plainNumber(roundness) !== 0)
      columns[ROUNDNESS] = runColumn(
        "number",
        [clamp(roundness, constant(0), constant(1))],
        elements,
        context,
      );
    return { shape: withElements(shape, elements, columns) };
  },
});
