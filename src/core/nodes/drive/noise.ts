import { apply, constant, divide, scaleBy, type Value } from "../../fields/expression";
import { hash3 } from "../../maths/random";
import { defineNode, NodeError } from "../define";
import { field, integer, length, number, out, toggle } from "../ports";
import { passedSteps } from "./loop-time";

export const noise = defineNode({
  type: "noise",
  family: "drive",
  title: "Noise",
  about: "Smooth irregular hills and dips through space, about −1 to 1, that may change with time.",
  synonyms: ["turbulence", "clouds", "organic", "perlin", "wobble", "fractal", "random smooth"],
  inputs: {
    place: field.vector({
      default: [0, 0, 0],
      implicit: "position",
      about: "Where it is read; the element's position unless linked.",
    }),
    size: length({ default: 1, min: 0, soft: [0.05, 8], about: "Distance from one hill to the next." }),
    strength: field.number({ default: 1, soft: [0, 4], about: "Times the value." }),
    octaves: integer({ default: 1, min: 1, max: 8, soft: [1, 8], about: "Layers of ever finer detail." }),
    roughness: number({
      default: 0.5,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "How strong each finer layer is.",
    }),
    lacunarity: number({ default: 2, min: 1, max: 8, soft: [1, 4], about: "How much finer each layer is." }),
    speed: number({ default: 0, soft: [0, 4], about: "Changes a second." }),
    loop: toggle({
      default: false,
      about: "Repeat exactly over the piece's range; the speed is rounded to fit.",
    }),
    seed: integer({ default: 0, min: 0, soft: [0, 100], about: "Another number, other hills." }),
  },
  outputs: {
    value: out.number("One number."),
    vector: out.vector("Three independent ones."),
  },
  summary: ({ size, octaves }) => `${size} units wide${octaves === 1 ? "" : `, ${octaves} layers`}`,
  evaluate({ place, size, strength, octaves, roughness, lacunarity, speed, loop, seed }, context) {
    if (size === 0) {
      throw new NodeError('"size" is 0, so there are no hills to speak of.', "size", {
        label: 'Set "size" to 1',
        input: "size",
        value: 1,
      });
    }
    const { steps: w, period } =
      speed === 0 ? { steps: 0, period: 0 } : passedSteps(context.time, speed, loop);
    const width = constant(size);
    const at = place.map((p) => divide(p, width));
    const sample = (channel: number): Value => {
      const own = hash3(context.seed, seed, channel);
      return scaleBy(
        apply("noise", at, {
          key: `${own}.${w}.${octaves}.${roughness}.${lacunarity}.${period}`,
          seed: own,
          w,
          octaves,
          roughness,
          lacunarity,
          period,
        }),
        strength,
      );
    };
    return { value: sample(0), vector: [sample(1), sample(2), sample(3)] as const };
  },
});
