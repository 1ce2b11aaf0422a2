import {
  apply,
  constant,
  dotProduct,
  positionField,
  subtract,
  type Value,
  vectorLength,
  zip,
} from "../../fields/expression";
import { lengthOf } from "../../maths/exact";
import { defineNode, NodeError } from "../define";
import { choice, field, length, number, out, toggle, vector } from "../ports";
import { passedSteps } from "./loop-time";

export const wave = defineNode({
  type: "wave",
  family: "drive",
  title: "Wave",
  about: "Crests that travel through space, straight or in rings, and may close a loop.",
  synonyms: ["ripple", "sine", "oscillate", "bounce", "pulse", "travelling"],
  inputs: {
    form: choice(["sine", "triangle", "saw", "square"], { about: "The shape of a crest." }),
    travels: choice(["straight", "in rings"], { about: "Along a direction, or away from a middle." }),
    direction: vector({
      default: [1, 0, 0],
      soft: [-1, 1],
      unit: "",
      shownWhen: { input: "travels", is: ["straight"] },
      about: "The way it travels.",
    }),
    middle: field.vector({
      default: [0, 0, 0],
      soft: [-10, 10],
      shownWhen: { input: "travels", is: ["in rings"] },
      about: "Where the rings begin.",
    }),
    wavelength: length({ default: 2, min: 0, soft: [0.1, 10], about: "From crest to crest." }),
    height: field.number({ default: 1, soft: [-2, 2], about: "Of a crest above the middle." }),
    speed: number({ default: 1, soft: [-4, 4], about: "Crests a second that pass a place." }),
    loop: toggle({
      default: true,
      about: "Move whole wavelengths over the piece's range, so that it closes.",
    }),
    shift: field.number({
      default: 0,
      soft: [0, 1],
      about: "Wavelengths ahead; link a random number to scatter it.",
    }),
  },
  outputs: { value: out.number("From −height to height.") },
  summary: ({ form, wavelength }) => `${form}, ${wavelength} units long`,
  evaluate({ form, travels, direction, middle, wavelength, height, speed, loop, shift }, context) {
    if (wavelength === 0) {
      throw new NodeError('"wavelength" is 0, so there are no crests to speak of.', "wavelength", {
        label: 'Set "wavelength" to 1',
        input: "wavelength",
        value: 1,
      });
    }
    const norm = lengthOf(...direction) || 1;
    const along =
      travels === "straight"
        ? dotProduct(positionField(), [
            constant(direction[0] / norm),
            constant(direction[1] / norm),
            constant(direction[2] / norm),
          ])
        : vectorLength(zip("subtract", positionField(), middle));
    const passed = speed === 0 ? 0 : passedSteps(context.time, speed, loop).steps;
    // y = A sin(kx − ωt + φ), with the phase in turns.
    const phase = apply("add", [
      // Whole crests make no difference, and float32 has little room for them after an hour.
      subtract(apply("divide", [along, constant(wavelength)]), constant(passed - Math.floor(passed))),
      shift,
    ]);
    return { value: apply("multiply", [formOf(form, phase), height]) };
  },
});

/** −1…1 over a phase in turns; every form begins at 0 and rises, as the sine does. */
function formOf(form: string, phase: Value): Value {
  const fraction = apply("fraction", [phase]);
  switch (form) {
    case "sine":
      return apply("sine", [apply("multiply", [phase, constant(2 * Math.PI)])]);
    case "triangle": {
      const shifted = apply("add", [phase, constant(0.25)]);
      const tent = apply("pingPong", [apply("multiply", [shifted, constant(2)]), constant(1)]);
      return subtract(apply("multiply", [tent, constant(2)]), constant(1));
    }
    case "saw":
      return subtract(
        apply("multiply", [apply("fraction", [apply("add", [phase, constant(0.5)])]), constant(2)]),
        constant(1),
      );
    default:
      return subtract(
        apply("multiply", [apply("less", [fraction, constant(0.5)]), constant(2)]),
        constant(1),
      );
  }
}
