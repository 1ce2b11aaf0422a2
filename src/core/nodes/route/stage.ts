import { isFilled } from "../../geometry/shape";
import { defineNode } from "../define";
import {
  angle,
  assetPicture,
  cameras,
  choice,
  color,
  finishes,
  lights,
  number,
  out,
  shape,
  toggle,
} from "../ports";

/** Lights that are there without any of the piece. */
export const SETUPS = ["daylight", "soft table", "back-lit", "dusk", "dark with rims", "none"] as const;
export type Setup = (typeof SETUPS)[number];

/** What things stand on. */
export const FLOORS = ["shadows only", "wet", "mirror", "curved sheet"] as const;
export type Floor = (typeof FLOORS)[number];

/** What is behind everything. */
export const BACKGROUNDS = ["one colour", "two colours", "surroundings"] as const;
export type Background = (typeof BACKGROUNDS)[number];

/** Pixels across of surroundings that are wider: they are lit and seen by so many. */
export const MOST_SURROUNDING = 4096;

const ON_GROUND = { input: "ground", is: [true] } as const;

export const stage = defineNode({
  type: "stage",
  family: "route",
  title: "Stage",
  about: "What is linked here is shown, exported and played.",
  synonyms: ["output", "result", "show", "render", "display", "end"],
  inputs: {
    shape: shape({ about: "The result." }),
    camera: cameras({ about: "Where it is seen from; without one as you look at it." }),
    lights: lights({ about: "Lights of your own, besides the set-up." }),
    setup: choice(SETUPS, {
      about:
        "Light that is there without any of your own: in one click another mood; a picture as light takes most of its place.",
    }),
    finish: finishes({ about: "What becomes of the picture; of several the last one counts." }),
    background: color({ default: "#14201b", about: "Behind everything." }),
    behind: choice(BACKGROUNDS, {
      about: "What is seen behind everything; the surroundings once they are a picture.",
    }),
    above: color({
      default: "#3d5560",
      shownWhen: { input: "behind", is: ["two colours"] },
      about: "The colour high up, into which the background's goes over.",
    }),
    light: assetPicture({
      label: "surroundings",
      about: "A picture that surrounds and lights everything, twice as wide as high; daylight without one.",
    }),
    lightTurn: angle({
      default: 0,
      soft: [-180, 180],
      about: "How the surroundings are turned about the upright.",
    }),
    lightPower: number({
      default: 1,
      min: 0,
      soft: [0, 3],
      unit: "×",
      about: "How bright the surroundings are.",
    }),
    outline: number({
      default: 0,
      min: 0,
      soft: [0, 8],
      about: "How many pixels wide the line around every clone is; 0 draws none.",
    }),
    ink: color({ default: "#101714", about: "The colour of outlines." }),
    discs: number({
      default: 0,
      min: 0,
      soft: [0, 12],
      unit: "px",
      about:
        "Clones smaller than so many pixels are drawn as discs, which is faster; 0 draws all of them whole.",
    }),
    ground: toggle({ default: true, about: "A floor under the lowest point that takes shadows." }),
    floor: choice(FLOORS, {
      shownWhen: ON_GROUND,
      about:
        "What the floor is: nothing but shadows; wet or a mirror; or a sheet in the background's colour that is curved up behind, which takes light.",
    }),
    facing: angle({
      default: 0,
      soft: [-180, 180],
      shownWhen: { input: "floor", is: ["curved sheet"] },
      about: "Where the curved sheet is open to: 0 to the front.",
    }),
  },
  outputs: { shape: out.shape("The result, passed on.") },
  summary: ({ ground }) => (ground ? "with ground" : "no ground"),
  evaluate({ shape, light }, context) {
    if (light && light.picture.width > MOST_SURROUNDING)
      context.note(
        `The surroundings have ${light.picture.width} pixels across; ${MOST_SURROUNDING} of them are shown.`,
      );
    if (!isFilled(shape)) {
      context.warn(
        shape.sources
          ? "A set to pick from arrives; clone it onto sites to see its parts."
          : "No shape arrives, so the stage is empty.",
        { input: "shape" },
      );
    }
    return { shape };
  },
});
