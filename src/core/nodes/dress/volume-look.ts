import { LOOK_COLORS, USUAL_VOLUME_LOOK, type VolumeLook } from "../../geometry/volume-look";
import { type Gradient, gradientAt } from "../../maths/gradient";
import { defineNode } from "../define";
import { volumeOf } from "../form/volumes/input-volume";
import { choice, gradient, integer, number, out, shape } from "../ports";

const USUAL = USUAL_VOLUME_LOOK;

export const volumeLook = defineNode({
  type: "volume-look",
  family: "dress",
  title: "Volume look",
  about: "How smoke is seen: its colours by density or heat, how thick it is, its own shadow and its glow.",
  synonyms: ["smoke shader", "smoke colour", "fire colour", "volume material", "fog look", "density colour"],
  inputs: {
    shape: shape({ about: "Smoke, or any volume of densities." }),
    by: choice(["density", "heat"], { about: "Which value chooses the colour." }),
    most: number({
      default: USUAL.most,
      min: 0.0001,
      soft: [0.1, 5],
      about: "At which value the last colour stands.",
    }),
    colors: gradient({
      default: {
        space: "oklab",
        stops: [
          { at: 0, color: "#d8dcd6" },
          { at: 1, color: "#f4f1e8" },
        ],
      },
      label: "colours",
      about: "From nothing to the most.",
    }),
    thick: number({
      default: USUAL.thick,
      min: 0,
      soft: [0, 20],
      about: "How much density 1 hides, a unit.",
    }),
    glow: number({
      default: USUAL.glow,
      min: 0,
      soft: [0, 4],
      unit: "×",
      about: "How much of its colour it gives off by itself.",
    }),
    shade: number({ default: USUAL.shade, min: 0, soft: [0, 2], about: "How dark its own shadow is." }),
    steps: integer({
      default: USUAL.steps,
      min: 8,
      max: 256,
      soft: [16, 128],
      about: "Places that are looked at along each line of sight: more are finer and slower.",
    }),
  },
  outputs: { shape: out.shape("The same, to be seen so.") },
  summary: ({ by, thick }) => `by ${by}, thick ${thick}`,
  evaluate({ shape, by, most, colors, thick, glow, shade, steps }, context) {
    const volume = volumeOf(shape, "look at", context);
    if (!volume) return { shape };
    const look: VolumeLook = { by, most, colors: tableOf(colors), thick, glow, shade, steps };
    return { shape: { ...shape, volume: { ...volume, look } } };
  },
});

const tableOf = (colors: Gradient): Float32Array =>
  Float32Array.from(
    Array.from({ length: LOOK_COLORS }, (_, i) =>
      gradientAt(colors, i / (LOOK_COLORS - 1)).slice(0, 3),
    ).flat(),
  );
