import { AlongCurves } from "../../curves/along-curves";
import { applyAll, constant } from "../../fields/expression";
import { makeColumn } from "../../geometry/column";
import { placesOf } from "../../geometry/domains";
import type { Shape } from "../../geometry/shape";
import { lengthOf } from "../../maths/exact";
import { FULL_FRAME, lensRadius } from "../../maths/lens";
import { minus, plus, type Vec3 } from "../../maths/vector";
import type { Parts } from "../../values/parts";
import { defineNode, type NodeContext } from "../define";
import { latticeData } from "../drive/lattice-inputs";
import { angle, choice, integer, number, out, shape, vector } from "../ports";

export const PROJECTIONS = ["perspective", "parallel"] as const;
export type Projection = (typeof PROJECTIONS)[number];

/** What a camera says, as the stage reads it. */
export interface CameraSettings {
  readonly place: Vec3;
  readonly target: Vec3;
  readonly projection: Projection;
  /** Units across the picture of a parallel one. */
  readonly across: number;
  /** Units from the middle of the lens to its edge, 0 where all is sharp; and to what is sharp. */
  readonly lensRadius: number;
  readonly focus: number;
  /** Millimetres. */
  readonly lens: number;
  readonly film: number;
  /** Radians about the way that it looks. */
  readonly roll: number;
  /** Parts of the picture by which it is shifted, to the right and up. */
  readonly shift: readonly [number, number];
  /** The frame from which on it is looked through. */
  readonly from: number;
}

const SEEN = { input: "projection", is: ["perspective"] } as const;

export const camera = defineNode({
  type: "camera",
  family: "dress",
  title: "Camera",
  about: "Where the piece is seen from: link it to the Stage. Of several, each takes over at its frame.",
  synonyms: ["view", "lens", "focal length", "shot", "cut", "dolly", "pan", "orbit camera", "fly through"],
  inputs: {
    place: vector({
      default: [6, 4, 8],
      soft: [-20, 20],
      handle: "place",
      about: "Where it stands, unless it goes along a path.",
    }),
    target: vector({
      default: [0, 0, 0],
      soft: [-10, 10],
      handle: "place",
      about: "What it looks at, unless it follows something.",
    }),
    projection: choice(PROJECTIONS, {
      about: "Whether what is far is seen smaller, or everything as large as it is, as in a plan.",
    }),
    across: number({
      default: 10,
      min: 0.001,
      soft: [1, 40],
      unit: "units",
      shownWhen: { input: "projection", is: ["parallel"] },
      about: "How much it sees from the left to the right.",
    }),
    lens: number({
      default: 50,
      min: 4,
      max: 2000,
      soft: [14, 200],
      unit: "mm",
      shownWhen: SEEN,
      about: "Its focal length: short ones see wide, long ones near to each other what is not.",
    }),
    film: number({
      default: FULL_FRAME,
      min: 1,
      max: 400,
      soft: [8, 70],
      unit: "mm",
      shownWhen: SEEN,
      about: "How wide the picture is within the camera; 36 is the usual one.",
    }),
    aperture: number({
      default: 0,
      min: 0,
      soft: [0, 22],
      shownWhen: SEEN,
      about:
        "Its f-number: the smaller, the less is sharp; 0 keeps all sharp. Seen when the stage rests, and in what is taken away.",
    }),
    focus: number({
      default: 0,
      min: 0,
      soft: [0, 20],
      unit: "units",
      shownWhen: SEEN,
      about: "How far away things are sharp; 0 for what it looks at.",
    }),
    unitSize: number({
      default: 10,
      min: 0.001,
      soft: [1, 100],
      unit: "cm",
      shownWhen: SEEN,
      about: "How long a unit is taken to be for what is not sharp: small things are blurred more.",
    }),
    roll: angle({ default: 0, soft: [-45, 45], about: "How it is turned about the way that it looks." }),
    path: shape({ about: "Curves: it stands on the first of them." }),
    along: number({
      default: 0,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "Where on the path, from 0 to 1; keys let it travel.",
    }),
    follows: shape({ about: "Clones, sites or points: it looks at one of them." }),
    which: integer({ default: 0, min: 0, soft: [0, 100], about: "The number of the one that it follows." }),
    shake: number({
      default: 0,
      min: 0,
      soft: [0, 1],
      unit: "units",
      about: "How far a hand that holds it sways.",
    }),
    sway: number({
      default: 2,
      min: 0.05,
      soft: [0.2, 5],
      unit: "s",
      about: "How long a sway takes; over the piece's range it always closes.",
    }),
    shiftX: number({
      default: 0,
      soft: [-0.5, 0.5],
      unit: "×",
      about: "Shifts the picture sideways, in widths of it.",
    }),
    shiftY: number({
      default: 0,
      soft: [-0.5, 0.5],
      unit: "×",
      about: "Shifts it up: high things stay upright.",
    }),
    from: integer({
      default: 0,
      unit: "frames",
      soft: [0, 200],
      about: "From which frame on it is looked through.",
    }),
  },
  outputs: { camera: out.camera("For the Stage.") },
  summary: ({ projection, across, lens, aperture }) =>
    projection === "parallel"
      ? `parallel, ${across} across`
      : `${lens} mm${Number(aperture) > 0 ? `, f/${aperture}` : ""}`,
  evaluate(inputs, context) {
    const { projection, across, lens, film, roll, shiftX, shiftY, from } = inputs;
    const sway = swayOf(inputs, context);
    const place = plus(placeOnPath(inputs, context) ?? inputs.place, sway);
    const target = followed(inputs, context) ?? inputs.target;
    if (place.every((v, a) => v === target[a]))
      context.warn("It stands where it looks at, so it looks nowhere. Move one of them.", {
        input: "target",
      });
    const settings: CameraSettings = {
      place,
      target,
      projection,
      across,
      lens,
      film,
      roll,
      shift: [shiftX, shiftY],
      ...sharpness(inputs, place, target, context),
      from,
    };
    return { camera: { what: "camera", title: "Camera", shapes: {}, fields: {}, settings: { ...settings } } };
  },
});

const MILLIMETRES_IN_A_CENTIMETRE = 10;

/** What is sharp, and how much the rest is not. */
function sharpness(
  {
    projection,
    lens,
    aperture,
    focus,
    unitSize,
  }: Readonly<Record<"lens" | "aperture" | "focus" | "unitSize", number>> & {
    readonly projection: Projection;
  },
  place: Vec3,
  target: Vec3,
  context: NodeContext,
): Pick<CameraSettings, "lensRadius" | "focus"> {
  const distance = focus > 0 ? focus : lengthOf(...minus(target, place));
  if (aperture === 0 || projection === "parallel") return { lensRadius: 0, focus: distance };
  const focal = lens / (unitSize * MILLIMETRES_IN_A_CENTIMETRE);
  if (distance <= focal) {
    const least = Math.ceil(focal * 2 * 100) / 100;
    context.warn(
      `A lens of ${lens} mm is ${focal} units long where a unit is ${unitSize} cm, and nothing nearer than that can be sharp; all is drawn sharp.`,
      { input: "focus", repair: { label: `Make it sharp at ${least}`, input: "focus", value: least } },
    );
    return { lensRadius: 0, focus: distance };
  }
  return { lensRadius: lensRadius(focal, aperture, distance), focus: distance };
}

/** The camera that is looked through at a frame: of those that have taken over, the one that did so last; else the first. */
export function cameraAt(cameras: readonly Parts[], frame: number): CameraSettings | null {
  let found: CameraSettings | null = null;
  for (const { what, settings } of cameras) {
    const one = settings as unknown as CameraSettings;
    if (
      what === "camera" &&
      (!found || (one.from <= frame && (one.from >= found.from || found.from > frame)))
    )
      found = one;
  }
  return found;
}

/** Chances of its own, beside those of other nodes. */
const SWAY = 0x5a11;
/** Between the places of the lattice, where its noise is 0. */
const HAND = [0.37, 0.61, 0.19].map(constant);
const ONE = {
  count: 1,
  columns: {
    position: makeColumn(
      "vector",
      [0, 0, 0].map((v) => Float32Array.of(v)),
    ),
  },
};

/** How far a hand that holds it has swayed at the frame. */
function swayOf(
  { shake, sway }: { readonly shake: number; readonly sway: number },
  context: NodeContext,
): Vec3 {
  if (shake === 0) return [0, 0, 0];
  const layers = { octaves: 2, roughness: 0.5, lacunarity: 2, speed: 1 / sway, loop: true, seed: SWAY };
  const noises = applyAll("noise3", HAND, latticeData(layers, context));
  return context.run(noises, ONE).map((lane) => lane[0] * shake) as unknown as Vec3;
}

function placeOnPath(
  { path, along }: { readonly path: Shape; readonly along: number },
  context: NodeContext,
): Vec3 | null {
  const { curves } = path;
  if (!curves || curves.points.count === 0) return null;
  const ways = new AlongCurves(curves);
  if (!(ways.lengths[0] > 0)) {
    context.warn("The path has no length, so the camera stands where it is placed.", { input: "path" });
    return null;
  }
  const { p, q, t } = ways.at(0, along);
  return curves.points.columns.position.lanes.map(
    (lane) => lane[p] + (lane[q] - lane[p]) * t,
  ) as unknown as Vec3;
}

function followed(
  { follows, which }: { readonly follows: Shape; readonly which: number },
  context: NodeContext,
): Vec3 | null {
  const elements = placesOf(follows);
  if (!elements || elements.count === 0) return null;
  if (which >= elements.count) {
    context.warn(`There are ${elements.count}, so there is no number ${which}; it looks at the last.`, {
      input: "which",
      repair: { label: `Take number ${elements.count - 1}`, input: "which", value: elements.count - 1 },
    });
  }
  const i = Math.min(which, elements.count - 1);
  return elements.columns.position.lanes.map((lane) => lane[i]) as unknown as Vec3;
}
