import { type Domain, type Lane, makeFloats } from "../../geometry/column";
import { placesOf } from "../../geometry/domains";
import { pointNormals } from "../../geometry/normals";
import { lanesOf, rotationsOf, type Shape } from "../../geometry/shape";
import { MOST_SITES } from "../../limits";
import { lengthOf } from "../../maths/exact";
import { rotate } from "../../maths/quaternion";
import { hash3 } from "../../maths/random";
import { NO_PARTICLES, type Particles, type Source, steppedParticles } from "../../simulate/emission";
import type { Stepping } from "../../simulate/state";
import { defineNode, type Resolved } from "../define";
import { angle, field, integer, number, out, shape, vector } from "../ports";
import { runUpInput, substepsInput } from "./step-inputs";

const INPUTS = {
  shape: shape({ about: "Where they are born: sites or clones, else points of a mesh or of curves." }),
  rate: number({ default: 60, min: 0, soft: [0, 500], about: "How many are born a second." }),
  life: number({ default: 3, min: 0, soft: [0.2, 10], unit: "s", about: "How long each lives; 0 for ever." }),
  lifeSpread: number({
    default: 0.3,
    min: 0,
    max: 1,
    soft: [0, 1],
    about: "By what part lives differ by chance: 0.3 from 0.7 to 1.3 times.",
  }),
  speed: number({
    default: 1,
    soft: [0, 10],
    about: "Units a second at birth, off the surface or where the top of a site looks.",
  }),
  speedSpread: number({ default: 0.3, min: 0, max: 1, soft: [0, 1], about: "By what part speeds differ." }),
  spread: angle({
    default: 15,
    min: 0,
    soft: [0, 180],
    about: "How far from that direction they may leave.",
  }),
  gravity: vector({ default: [0, -1, 0], soft: [-10, 10], about: "Units a second², for all." }),
  drag: number({
    default: 0.5,
    min: 0,
    soft: [0, 5],
    about: "What part of its speed each loses a second, nearly: the larger, the sooner it drifts.",
  }),
  push: field.vector({
    default: [0, 0, 0],
    soft: [-5, 5],
    about: "A force on each, units a second²: link Swirl here. It may read `age`, `life` and `velocity`.",
  }),
  substeps: substepsInput("Steps for each frame; more follow a push that changes quickly."),
  seed: integer({ default: 0, min: 0, soft: [0, 100], about: "Another number, other chances." }),
  most: integer({
    default: 200_000,
    min: 0,
    max: MOST_SITES,
    soft: [1, 200_000],
    about: "Never more at once.",
  }),
  runUp: runUpInput("Frames worked out before the first, so that they are there already."),
};

const stepping: Stepping<Resolved<typeof INPUTS>, Particles> = {
  runUp: "runUp",
  start: () => NO_PARTICLES,
  step(before, inputs, { seconds, seed }) {
    const { rate, life, lifeSpread, speed, speedSpread, spread, gravity, drag, push, most, substeps } =
      inputs;
    const births = {
      source: sourceOf(inputs.shape),
      rate,
      life,
      lifeSpread,
      speed,
      speedSpread,
      angle: spread,
      seed: hash3(seed, inputs.seed, 0),
      most,
    };
    let state = before;
    for (let k = 0; k < substeps; k++)
      state = steppedParticles(state, births, { gravity, drag, push }, seconds / substeps);
    return state;
  },
};

export const particles = defineNode({
  type: "particles",
  family: "simulate",
  title: "Particles",
  about: "Grains that leave a shape, are drawn and pushed by forces, and end.",
  synonyms: [
    "emitter",
    "emit",
    "grains",
    "dust",
    "sparks",
    "smoke like",
    "pollen",
    "fountain",
    "spray",
    "burst",
    "rain",
  ],
  inputs: INPUTS,
  outputs: {
    sites: out.shape(
      "Sites where they are, with `velocity`, `age` and `life`; ids stay with each for its life.",
    ),
  },
  summary: ({ rate, life }) => `${rate} a second, ${life} s each`,
  cost: ({ rate, life, most }) => ({ sites: Math.min(most, life > 0 ? rate * life * 1.3 : most) }),
  stepping,
  evaluate({ shape, drag, gravity, most }, context) {
    const { domains } = context.carried<Particles>();
    const count = placesOf(shape)?.count ?? 0;
    if (count === 0) context.warn("Nothing arrives, so nothing is born.", { input: "shape" });
    const { particles } = domains;
    if (particles.count >= most && most > 0)
      context.note(`There are ${most}, the most that "most" allows; more are born as others end.`);
    const pull = lengthOf(...gravity);
    if (drag > 0 && pull > 0)
      context.note(`Falling, they come to ${Number((pull / drag).toPrecision(2))} units a second at most.`);
    return { sites: particles.count > 0 ? { sites: particles } : {} };
  },
});

/** Places to be born at, and where they look: off a surface, else where the top of each looks. */
function sourceOf(shape: Shape): Source {
  const places = placesOf(shape);
  if (!places) return { count: 0, position: [], facing: () => [0, 1, 0] };
  const { lanes } = lanesOf(places, "position", "vector");
  return {
    count: places.count,
    position: lanes ?? Array.from({ length: 3 }, () => makeFloats(places.count)),
    facing: facingOf(places, shape),
  };
}

function facingOf(places: Domain, { sites, mesh }: Shape): Source["facing"] {
  const own = lanesOf(places, "normal", "vector").lanes;
  const lanes: readonly Lane[] | undefined = own ?? (!sites && mesh ? pointNormals(mesh) : undefined);
  if (lanes)
    return (i) => {
      const [x, y, z] = lanes.map((lane) => lane[i]);
      const size = Math.sqrt(x * x + y * y + z * z);
      return size > 0 ? [x / size, y / size, z / size] : [0, 1, 0];
    };
  const turn = rotationsOf(places);
  return (i) => rotate(turn(i), [0, 1, 0]);
}
