import { EMPTY_SHAPE } from "../../geometry/shape";
import { NO_TRAIL, type Trail, trailsOf, withMoment } from "../../particles/trails";
import type { Stepping } from "../../simulate/state";
import { defineNode, type Resolved } from "../define";
import { elementsOf, SILENTLY } from "../elements";
import { integer, length, out, shape, toggle } from "../ports";
import { runUpInput } from "../simulate/step-inputs";

const INPUTS = {
  shape: shape({ about: "Particles, clones or sites; without those, points of a mesh or of curves." }),
  length: integer({
    default: 25,
    min: 1,
    max: 2000,
    soft: [5, 100],
    unit: "frames",
    about: "How far back they reach.",
  }),
  every: integer({
    default: 1,
    min: 1,
    max: 100,
    soft: [1, 10],
    unit: "frames",
    about: "A place every so many frames; where it is now is always one.",
  }),
  apart: length({
    default: 0,
    soft: [0, 0.5],
    about: "Places nearer than that to the one before are left out.",
  }),
  stay: toggle({
    default: true,
    about: "Trails of what is gone stay until they have passed, instead of being gone with it.",
  }),
  runUp: runUpInput("Frames worked out before the first, so that they are there already."),
};

type Inputs = Resolved<typeof INPUTS>;

const stepping: Stepping<Inputs, Trail> = {
  runUp: "runUp",
  start: (inputs, { frame, fps }) => remembering(NO_TRAIL, inputs, frame, fps),
  step: (before, inputs, { frame, fps }) => remembering(before, inputs, frame, fps),
};

function remembering(before: Trail, { shape, length, every }: Inputs, frame: number, fps: number): Trail {
  // Moments between frames are looked at and not remembered.
  if (!Number.isInteger(frame) || frame % every !== 0) return before;
  const elements = elementsOf(shape, SILENTLY);
  return withMoment(
    before,
    elements?.domain ?? { count: 0, columns: NOWHERE },
    frame / fps,
    (length + every) / fps,
  );
}

const NOWHERE = { position: { kind: "vector", lanes: [0, 1, 2].map(() => new Float32Array(0)) } } as const;

export const trails = defineNode({
  type: "trails",
  family: "simulate",
  title: "Trails",
  about:
    "Curves along which things have come, joined by their ids: threads behind particles, tracks of clones.",
  synonyms: [
    "trail",
    "trace",
    "tail",
    "path of motion",
    "streak",
    "history",
    "comet",
    "thread",
    "track",
    "mycelium",
  ],
  inputs: INPUTS,
  outputs: {
    shape: out.shape(
      "A curve each, from the oldest place to the newest. Points have `aged` (0 now, 1 at the end), `radius`, the rest of it, so that tubes taper, and their colour of then.",
    ),
  },
  summary: ({ length, every }) => `${length} frames${every === 1 ? "" : `, every ${every}`}`,
  cost: ({ shape, length, every }) => {
    const count = elementsOf(shape, SILENTLY)?.domain.count ?? 0;
    const points = (count * length) / every;
    return { points, bytes: points * 24 };
  },
  stepping,
  evaluate({ shape, length, apart, stay }, context) {
    const trail = context.carried<Trail>();
    const { frame, framesPerSecond } = context.time;
    const elements = elementsOf(shape, SILENTLY);
    const curves = trailsOf(trail, elements?.domain ?? null, {
      now: frame / framesPerSecond,
      length: length / framesPerSecond,
      keepsDead: stay,
      apart,
    });
    if (!curves) {
      if (!elements) context.warn("Nothing arrives, so nothing leaves a trail.", { input: "shape" });
      return { shape: EMPTY_SHAPE };
    }
    return { shape: { curves } };
  },
});
