import { add, apply, applyAll, scaleBy, type Value, type VectorField } from "../../fields/expression";
import { defineNode } from "../define";
import { field, out } from "../ports";
import { latticeData, layerInputs, placeInputs, sizedPlace, timeInputs } from "./lattice-inputs";

export const noise = defineNode({
  type: "noise",
  family: "drive",
  title: "Noise",
  about:
    "Smooth irregular hills and dips through space, about −1 to 1 unless said, that may change with time.",
  synonyms: ["turbulence", "clouds", "organic", "perlin", "wobble", "fractal", "random smooth"],
  inputs: {
    ...placeInputs("Distance from one hill to the next."),
    strength: field.number({
      default: 1,
      soft: [0, 4],
      about: "How far it goes above the middle and below.",
    }),
    middle: field.number({
      default: 0,
      soft: [-2, 2],
      about: "What it goes about: 1 with a strength of 0.5 gives sizes from 0.5 to 1.5.",
    }),
    ...layerInputs,
    ...timeInputs("hills"),
  },
  outputs: {
    value: out.number("One number."),
    vector: out.vector("Three independent ones."),
  },
  summary: ({ size, octaves }) => `${size} units wide${octaves === 1 ? "" : `, ${octaves} layers`}`,
  evaluate({ place, size, strength, middle, ...layers }, context) {
    const at = sizedPlace(place, size, "hills");
    const {
      seeds: [seed],
      ...data
    } = latticeData(layers, context, [0]);
    const one = apply("noise", at, { ...data, seed });
    const three = applyAll("noise3", at, latticeData(layers, context, [1, 2, 3]));
    const strong = (value: Value) => add(scaleBy(value, strength), middle);
    return { value: strong(one), vector: three.map(strong) as unknown as VectorField };
  },
});
