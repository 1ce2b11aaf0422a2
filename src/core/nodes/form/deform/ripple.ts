import { add, apply, constant, divide, positionField, scaleBy, subtract } from "../../../fields/expression";
import { defineNode } from "../../define";
import { choice, field, length, number, out, shape, vector } from "../../ports";
import { type Along, amountInput, beside, deformed, placeOf } from "./along";

const AXES = { x: 0, y: 1, z: 2 } as const;

export const ripple = defineNode({
  type: "ripple",
  family: "form",
  title: "Ripple",
  about:
    "Waves that run outwards from an axis, as rings on water do; one round of the phase closes the loop.",
  synonyms: ["waves", "water", "rings", "wobble", "pond", "deform", "undulate"],
  inputs: {
    shape: shape({ about: "A mesh, curves or clones." }),
    height: field.number({
      default: 0.2,
      soft: [-1, 1],
      unit: "units",
      about: "Up and down from where it was.",
    }),
    wavelength: length({ default: 1, min: 0, soft: [0.1, 4], about: "From one crest to the next." }),
    phase: number({
      default: 0,
      soft: [0, 1],
      about: "Which part of a wave it is on; link Loop time to let it run.",
    }),
    fade: length({
      default: 0,
      min: 0,
      soft: [0, 10],
      about: "Distance from the axis at which half is left; 0 for no fading.",
    }),
    amount: amountInput(),
    along: choice(["x", "y", "z"], { default: "y", about: "The axis; waves go up and down along it." }),
    middle: vector({
      default: [0, 0, 0],
      soft: [-5, 5],
      handle: "place",
      about: "A place that the axis goes through.",
    }),
  },
  keepsHandles: true,
  outputs: { shape: out.shape("The same, in waves.") },
  summary: ({ wavelength, along }) => `${wavelength} units, along ${along}`,
  evaluate({ shape, height, wavelength, phase, fade, amount, along: name, middle }, context) {
    const axis = AXES[name];
    const along: Along = {
      axis,
      sides: [((axis + 1) % 3) as 0, ((axis + 2) % 3) as 0],
      from: 0,
      length: 1,
      middle,
    };
    const [b, c] = beside(along);
    const away = apply("length3", [b, c, constant(0)]);
    const waves = subtract(divide(away, constant(wavelength)), constant(phase));
    const wave = apply("sine", [scaleBy(apply("fraction", [waves]), constant(2 * Math.PI))]);
    const left = fade > 0 ? apply("power", [constant(0.5), divide(away, constant(fade))]) : constant(1);
    const up = scaleBy(scaleBy(wave, left), scaleBy(height, amount));
    const position = placeOf(along, add(positionField()[axis], up), b, c);
    return { shape: deformed(shape, { position }, context) };
  },
});
