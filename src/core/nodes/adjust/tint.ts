import { apply, type ColorField, column, mix, mixColor, plainNumber } from "../../fields/expression";
import { defineNode } from "../define";
import { elementsOf, onElements, runColumn, withElements } from "../elements";
import { choice, field, out, shape } from "../ports";

export const tint = defineNode({
  type: "tint",
  family: "adjust",
  title: "Tint",
  about: "Colours each clone, or the points, corners or faces of a mesh.",
  synonyms: ["colour", "color", "paint", "hue", "shade"],
  inputs: {
    shape: shape({ about: "What is coloured." }),
    on: onElements(["sites", "points", "corners", "faces", "curve points"]),
    color: field.color({ default: "#f0b03a", about: "The colour; link a gradient here." }),
    amount: field.number({ default: 1, soft: [0, 1], about: "How much of it." }),
    how: choice(["mix", "multiply", "add"], { about: "How it meets the colour that is there." }),
  },
  keepsHandles: true,
  outputs: { shape: out.shape("The same, coloured.") },
  summary: ({ how }) => String(how),
  overrides: ({ on, how, amount }) =>
    on === "what is there" && how === "mix" && amount === 1 ? ["color"] : [],
  evaluate({ shape, on, color, amount, how }, context) {
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape };
    const own: ColorField = [
      column("color", 0, 1),
      column("color", 1, 1),
      column("color", 2, 1),
      column("color", 3, 1),
    ];
    const result = blended(own, color, amount, how);
    return { shape: withElements(shape, elements, { color: runColumn("color", result, elements, context) }) };
  },
});

function blended(
  own: ColorField,
  color: ColorField,
  amount: ColorField[number],
  how: string,
): readonly ColorField[number][] {
  // All of the new colour is the colour itself; mixing would cost two trips through Oklab an element.
  if (how === "mix" && plainNumber(amount) === 1) return color;
  if (how === "mix") return mixColor(own, color, amount);
  const rgb = [0, 1, 2].map((c) =>
    how === "add"
      ? apply("add", [own[c], apply("multiply", [color[c], amount])])
      : mix(own[c], apply("multiply", [own[c], color[c]]), amount),
  );
  return [...rgb, how === "add" ? own[3] : mix(own[3], color[3], amount)];
}
