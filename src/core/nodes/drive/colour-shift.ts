import { apply, applyAll, column, constant, scaleBy, type Value } from "../../fields/expression";
import { defineNode } from "../define";
import { field, out, toggle } from "../ports";

export const colourShift = defineNode({
  type: "colour-shift",
  family: "drive",
  title: "Colour shift",
  about: "Another hue, more or less colourful, lighter or darker; even to the eye, as it works in Oklab.",
  synonyms: ["hue", "saturation", "brightness", "color", "vary colour", "lightness"],
  inputs: {
    own: toggle({ default: true, about: "Begin with the colour each element has." }),
    color: field.color({
      default: "#f0b03a",
      shownWhen: { input: "own", is: [false] },
      about: "Begin with this colour.",
    }),
    hue: field.angle({ default: 0, soft: [-180, 180], about: "Turned round the colour circle." }),
    colorful: field.number({ default: 1, min: 0, soft: [0, 2], unit: "×", about: "0 is grey." }),
    lightness: field.number({
      default: 0,
      soft: [-0.5, 0.5],
      about: "Added; 1 is the way from black to white.",
    }),
  },
  outputs: { color: out.color("The shifted colour.") },
  evaluate({ own, color, hue, colorful, lightness }) {
    const lane = (l: number): Value => column("color", l, 1);
    const start = own ? ([lane(0), lane(1), lane(2), lane(3)] as const) : color;
    const [l, a, b] = applyAll("toOklab", [start[0], start[1], start[2]]);
    const cosine = scaleBy(apply("cosine", [hue]), colorful);
    const sine = scaleBy(apply("sine", [hue]), colorful);
    const turnedA = apply("subtract", [scaleBy(a, cosine), scaleBy(b, sine)]);
    const turnedB = apply("add", [scaleBy(a, sine), scaleBy(b, cosine)]);
    const light = apply("clamp", [apply("add", [l, lightness]), constant(0), constant(1)]);
    const rgb = applyAll("fromOklab", [light, turnedA, turnedB]);
    // Colours that a screen cannot show are brought to the nearest channel values.
    const shown = rgb.map((c) => apply("clamp", [c, constant(0), constant(1)]));
    return { color: [shown[0], shown[1], shown[2], start[3]] as const };
  },
});
