import { linesBetween } from "../../curves/lines-between";
import { makeColumn, withColumns } from "../../geometry/column";
import { placesOf } from "../../geometry/domains";
import { EMPTY_SHAPE } from "../../geometry/shape";
import { facesBetween } from "../../meshes/linked-faces";
import { type Links, NO_LINKS, placesOfIds, steppedLinks } from "../../particles/steady-links";
import type { Stepping } from "../../simulate/state";
import { defineNode, type Resolved } from "../define";
import { choice, integer, length, number, out, shape } from "../ports";
import { runUpInput } from "../simulate/step-inputs";

const INPUTS = {
  shape: shape({ about: "Particles, clones or sites with ids; without those, points." }),
  reach: length({ default: 0.6, min: 0, soft: [0, 3], about: "How near two must come for a link to begin." }),
  hold: number({
    default: 1.4,
    min: 1,
    soft: [1, 3],
    unit: "×",
    about: "How many times as far apart they may go before it ends.",
  }),
  most: integer({
    default: 4,
    min: 1,
    max: 64,
    soft: [1, 12],
    about: "From each to so many; others may link to it besides.",
  }),
  grow: number({
    default: 0.3,
    min: 0,
    soft: [0, 2],
    unit: "s",
    about: "How long a new one takes to come to its whole strength.",
  }),
  as: choice(["lines", "surfaces", "both"], {
    about: "A line for each link, a face between each three that are linked with each other, or both.",
  }),
  runUp: runUpInput("Frames worked out before the first, so that they are there already."),
};

type Inputs = Resolved<typeof INPUTS>;

const stepping: Stepping<Inputs, Links> = {
  runUp: "runUp",
  start: (inputs) => linked(NO_LINKS, inputs, 0),
  step: (before, inputs, { seconds }) => linked(before, inputs, seconds),
};

const linked = (before: Links, inputs: Inputs, seconds: number): Links => {
  const elements = placesOf(inputs.shape);
  return elements ? steppedLinks(before, elements, inputs, seconds) : NO_LINKS;
};

export const steadyLinks = defineNode({
  type: "steady-links",
  family: "simulate",
  title: "Steady links",
  about:
    "Lines between moving neighbours that do not flicker: a link that is there holds longer than it takes to begin one.",
  synonyms: ["connect", "network", "web", "threads", "bonds", "constellation", "mycelium", "hysteresis"],
  inputs: INPUTS,
  outputs: {
    curves: out.shape(
      "A line for each pair. Its points have `closeness` (1 together, 0 where it ends), `age` in seconds, `radius`, which is both together, and the colours of their ends. Faces have `closeness` and `strength`, both together, of the weakest of their links.",
    ),
  },
  summary: ({ reach, hold }) => `within ${reach} units, held to ${hold} ×`,
  cost: ({ shape, most, as }) => {
    const links = (placesOf(shape)?.count ?? 0) * most;
    return { points: links * 2, ...(as === "lines" ? {} : { faces: links * most }) };
  },
  stepping,
  evaluate({ shape, reach, hold, grow, as }, context) {
    const { links } = context.carried<Links>().domains;
    const elements = placesOf(shape);
    if (!elements || elements.count < 2) {
      context.warn("Fewer than two arrive, so there is nothing to link.", { input: "shape" });
      return { curves: EMPTY_SHAPE };
    }
    const { at } = placesOfIds(elements);
    const ends: number[] = [];
    const ages: number[] = [];
    for (let l = 0; l < links.count; l++) {
      const [i, j] = [at.get(links.columns.from.lanes[0][l]), at.get(links.columns.to.lanes[0][l])];
      if (i === undefined || j === undefined) continue;
      ends.push(i, j);
      ages.push(links.columns.age.lanes[0][l]);
    }
    if (ages.length === 0) return { curves: EMPTY_SHAPE };
    const curves = linesBetween(elements, ends);
    const position = curves.points.columns.position.lanes;
    const closeness = Float32Array.from(ends, (_, e) => {
      const l = e & ~1;
      const far = Math.sqrt(position.reduce((sum, lane) => sum + (lane[l] - lane[l + 1]) ** 2, 0));
      return Math.max(0, 1 - far / Math.max(1e-9, reach * hold));
    });
    const age = Float32Array.from(ends, (_, e) => ages[e >> 1]);
    const radius = closeness.map((near, e) => near * (grow > 0 ? Math.min(1, age[e] / grow) : 1));
    const points = withColumns(curves.points, {
      closeness: makeColumn("number", [closeness]),
      age: makeColumn("number", [age]),
      radius: makeColumn("number", [radius]),
    });
    const ofLinks = (values: Float32Array) => values.filter((_, e) => e % 2 === 0);
    const mesh =
      as === "lines" ? undefined : facesBetween(elements, ends, ofLinks(closeness), ofLinks(radius));
    return {
      curves: {
        ...(as === "surfaces" ? {} : { curves: { ...curves, points } }),
        ...(mesh ? { mesh } : {}),
      },
    };
  },
});
