import { defineNode } from "../define";
import { choice, length, number, out } from "../ports";

/** How light becomes what a screen shows. */
export const TONES = ["neutral", "film", "soft film", "plain"] as const;
export type Tone = (typeof TONES)[number];

/** What is done to a picture, as the stage reads it; in the order of these names. */
export interface FinishSettings {
  /** How strong, and units about. */
  readonly occlusion: number;
  readonly reach: number;
  readonly glow: number;
  /** From which brightness on it glows, and how wide, as a part of the picture. */
  readonly glowFrom: number;
  readonly glowSize: number;
  /** Stops. */
  readonly exposure: number;
  readonly tone: Tone;
  readonly contrast: number;
  readonly saturation: number;
  readonly warmth: number;
  readonly vignette: number;
  readonly grain: number;
}

const part = (about: string, soft: [number, number] = [0, 1]) =>
  number({ default: 0, min: soft[0] < 0 ? undefined : 0, soft, unit: "×", about });

export const finish = defineNode({
  type: "finish",
  family: "dress",
  title: "Finish",
  about:
    "What becomes of the picture, in this order: dark corners, glow, brightness, tone, colour, edges, grain.",
  synonyms: [
    "post",
    "bloom",
    "glow",
    "ambient occlusion",
    "grade",
    "vignette",
    "grain",
    "exposure",
    "tone mapping",
    "contrast",
    "saturation",
    "colour correction",
  ],
  inputs: {
    occlusion: part(
      "How dark it is where little light gets to; drawn when the stage rests, and in what is taken away.",
      [0, 2],
    ),
    reach: length({ default: 0.5, min: 0.01, soft: [0.05, 3], about: "How far things darken each other." }),
    glow: part("How much of what is bright spreads around it.", [0, 2]),
    glowFrom: number({
      default: 0.8,
      min: 0,
      soft: [0, 2],
      about: "From which brightness on; above 1 only what gives off light.",
    }),
    glowSize: number({ default: 0.4, min: 0, max: 1, soft: [0, 1], about: "How wide it spreads." }),
    exposure: number({ default: 0, soft: [-3, 3], unit: "×", about: "In stops: 1 is twice as bright." }),
    tone: choice(TONES, {
      about: "How light becomes what a screen shows: colours true, as film has them, softly, or cut off.",
    }),
    contrast: part("Dark darker and bright brighter; below 0 flatter.", [-1, 1]),
    saturation: part("Colours stronger; below 0 greyer.", [-1, 1]),
    warmth: part("To amber; below 0 to blue.", [-1, 1]),
    vignette: part("How dark the corners of the picture are."),
    grain: part("How grainy it is, another grain at every frame."),
  },
  outputs: { finish: out.finish("For the Stage.") },
  summary: ({ glow, tone }) => `${tone}${Number(glow) > 0 ? `, glow ${glow}` : ""}`,
  evaluate: (inputs) => ({
    finish: { what: "finish", title: "Finish", shapes: {}, fields: {}, settings: { ...inputs } },
  }),
});
