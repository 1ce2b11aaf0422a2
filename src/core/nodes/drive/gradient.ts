import { gradientColor } from "../../fields/gradient-color";
import { defineNode } from "../define";
import { field, gradient as gradientInput, out } from "../ports";

export const gradient = defineNode({
  type: "gradient",
  family: "drive",
  title: "Gradient",
  about: "A colour for each number.",
  synonyms: ["colour", "color", "ramp", "palette", "heat map", "rainbow"],
  inputs: {
    value: field.number({ default: 0, soft: [0, 1], about: "What picks the colour." }),
    low: field.number({ default: 0, soft: [-10, 10], about: "Gets the first colour." }),
    high: field.number({ default: 1, soft: [-10, 10], about: "Gets the last colour." }),
    colors: gradientInput({
      default: {
        space: "oklab",
        stops: [
          { at: 0, color: "#24463a" },
          { at: 0.55, color: "#8fbf63" },
          { at: 1, color: "#f0b03a" },
        ],
      },
      about: "The colours between low and high.",
    }),
  },
  outputs: { color: out.color("The colour.") },
  fits: { port: "value", side: "input", low: "low", high: "high" },
  summary: ({ low, high }) => `${low} … ${high}`,
  evaluate({ value, low, high, colors }) {
    return { color: gradientColor(colors, value, low, high) };
  },
});
