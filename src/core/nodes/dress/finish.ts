import type { LookUp } from "../../maths/look-up";
import { type Profile, profileAt, STRAIGHT_PROFILE } from "../../maths/profile";
import { defineNode } from "../define";
import { assetLookUp, choice, color, integer, length, number, out, profile } from "../ports";

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
  /**
   * How much of what is a unit further away fog hides, where y is 0; over how many units it thins out upwards, 0 for never; and its linear
   * colour.
   */
  readonly fog: number;
  readonly fogTop: number;
  readonly fogColor: readonly number[];
  /** Stops. */
  readonly exposure: number;
  readonly tone: Tone;
  readonly contrast: number;
  readonly saturation: number;
  readonly warmth: number;
  /** What each part of a colour becomes, evenly from 0 to 1; null where it stays. */
  readonly curve: Float32Array | null;
  readonly lookUp: LookUp | null;
  readonly lookUpShare: number;
  readonly vignette: number;
  readonly grain: number;
  /** Looks that are gathered while the stage rests. */
  readonly samples: number;
}

/** Looks that a picture is gathered of, unless it is said, and at most. */
export const USUAL_SAMPLES = 32;
const MOST_SAMPLES = 4096;

const part = (about: string, soft: [number, number] = [0, 1]) =>
  number({ default: 0, min: soft[0] < 0 ? undefined : 0, soft, unit: "×", about });

export const finish = defineNode({
  type: "finish",
  family: "dress",
  title: "Finish",
  about:
    "What becomes of the picture, in this order: fog, dark corners, glow, brightness, tone, colour, curve, look-up, edges, grain.",
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
    "fog",
    "mist",
    "LUT",
    "curves",
    "anti-aliasing",
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
    fog: number({
      default: 0,
      min: 0,
      soft: [0, 0.5],
      about: "How thick fog is: of what is one unit further away, so much more of the light is lost.",
    }),
    fogTop: length({
      default: 0,
      min: 0,
      soft: [0, 5],
      about: "It lies low and thins out upwards: over so many units to about a third; 0 fills all the air.",
    }),
    fogColor: color({ default: "#24332d", about: "The colour of fog." }),
    exposure: number({ default: 0, soft: [-3, 3], unit: "×", about: "In stops: 1 is twice as bright." }),
    tone: choice(TONES, {
      about: "How light becomes what a screen shows: colours true, as film has them, softly, or cut off.",
    }),
    contrast: part("Dark darker and bright brighter; below 0 flatter.", [-1, 1]),
    saturation: part("Colours stronger; below 0 greyer.", [-1, 1]),
    warmth: part("To amber; below 0 to blue.", [-1, 1]),
    curve: profile({
      default: STRAIGHT_PROFILE,
      about: "What dark, middle and bright become, from 0 to 1.",
    }),
    lookUp: assetLookUp({
      label: "look-up",
      about: "A .cube file: for each colour another one, as colourists make them.",
    }),
    lookUpShare: number({
      default: 1,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "How much of the look-up there is.",
    }),
    vignette: part("How dark the corners of the picture are."),
    grain: part("How grainy it is, another grain at every frame."),
    samples: integer({
      default: USUAL_SAMPLES,
      min: 1,
      max: MOST_SAMPLES,
      soft: [1, 256],
      about:
        "How many looks are gathered while the stage rests: fine edges, soft shadows, what is not in focus. 1 leaves it as it plays.",
    }),
  },
  outputs: { finish: out.finish("For the Stage.") },
  summary: ({ glow, tone }) => `${tone}${Number(glow) > 0 ? `, glow ${glow}` : ""}`,
  evaluate({ curve, lookUp, ...plain }) {
    const settings: FinishSettings = {
      ...plain,
      curve: curveOf(curve),
      lookUp: lookUp?.lookUp ?? null,
    };
    return { finish: { what: "finish", title: "Finish", shapes: {}, fields: {}, settings: { ...settings } } };
  },
});

const CURVE_STEPS = 256;

/** Null for one that changes nothing. */
function curveOf(profile: Profile): Float32Array | null {
  const curve = Float32Array.from({ length: CURVE_STEPS }, (_, i) =>
    profileAt(profile, i / (CURVE_STEPS - 1)),
  );
  return curve.every((v, i) => Math.abs(v - i / (CURVE_STEPS - 1)) < 1e-4) ? null : curve;
}
