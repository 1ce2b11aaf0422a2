import { plainNumber, zip } from "../../fields/expression";
import { type Domain, type Lane, makeColumn, withColumns } from "../../geometry/column";
import { isFilled } from "../../geometry/shape";
import { greatestOf } from "../../kernels/statistics";
import { MOST_SITES } from "../../limits";
import { emittingOf } from "../../particles/emitting";
import { AGED, agedField, forcesOf, terminalSpeed, velocityField } from "../../particles/forces";
import {
  accelerationOf,
  METHODS,
  NO_PARTICLES,
  type Particles,
  steppedParticles,
} from "../../particles/particles";
import type { Stepping } from "../../simulate/state";
import type { Parts } from "../../values/parts";
import { defineNode, type NodeContext, type Resolved } from "../define";
import { births, choice, field, forces, integer, number, out, toggle } from "../ports";
import { runUpInput, substepsInput } from "../simulate/step-inputs";

const INPUTS = {
  births: births({ about: "Emitters, as many as you like; a shape is one that is set as usual." }),
  forces: forces({ about: "What moves them, in this order; a vector field is a push, in units a second²." }),
  time: number({
    default: 1,
    min: 0,
    soft: [0, 2],
    unit: "×",
    about: "How quickly time passes for them: 0 stands still. Keys make slow motion.",
  }),
  pace: field.number({ default: 1, min: 0, soft: [0, 2], unit: "×", about: "The same for each by itself." }),
  substeps: substepsInput("Steps for each frame; more follow a force that changes quickly."),
  method: choice(METHODS, {
    about:
      "How a step is made: pushes that stay are exact; those that depend on the place keep their energy in semi-implicit steps. Drag is exact in both, flows go by Runge and Kutta.",
  }),
  most: integer({
    default: 200_000,
    min: 0,
    max: MOST_SITES,
    soft: [1, 200_000],
    about: "Never more at once.",
  }),
  runUp: runUpInput("Frames worked out before the first, so that they are there already."),
  acceleration: toggle({
    default: false,
    about:
      "Gives them `acceleration` too, what all pushes and drags come to: for arrows, and for banking with Orient.",
  }),
};

type Inputs = Resolved<typeof INPUTS>;

const stepping: Stepping<Inputs, Particles> = {
  runUp: "runUp",
  start: (inputs, { seed, frame, fps }) =>
    steppedParticles(NO_PARTICLES, inputs, {
      until: frame / fps,
      span: 0,
      scale: inputs.time,
      fps,
      first: true,
      seed,
    }),
  step(before, inputs, { seconds, seed, frame, fps }) {
    const { substeps, time } = inputs;
    const span = seconds / substeps;
    let state = before;
    for (let k = 1; k <= substeps; k++) {
      const until = frame / fps - (substeps - k) * span;
      state = steppedParticles(state, inputs, { until, span, scale: time, fps, first: false, seed });
    }
    return state;
  },
};

export const particles = defineNode({
  type: "particles",
  family: "simulate",
  title: "Particles",
  about: "Grains that are born of emitters, are moved by forces, and end.",
  synonyms: [
    "emitter",
    "simulation",
    "grains",
    "dust",
    "sparks",
    "smoke like",
    "pollen",
    "fountain",
    "swarm",
    "dynamics",
  ],
  inputs: INPUTS,
  outputs: {
    sites: out.shape(
      "Sites where they are, with `velocity`, `age`, `life`, `aged` (0 at birth, 1 at the end) and what they took along; ids stay with each for its life.",
    ),
  },
  summary: ({ substeps, time }) =>
    `${time === 1 ? "" : `${time} × the time, `}${substeps === 1 ? "a step a frame" : `${substeps} steps a frame`}`,
  cost: ({ births, most }) => ({ sites: Math.min(most, expected(births)) }),
  stepping,
  evaluate(inputs, context) {
    const { particles } = context.carried<Particles>().domains;
    tell(inputs, particles, context);
    return { sites: particles.count > 0 ? { sites: shown(particles, inputs, context) } : {} };
  },
});

/** How many there will be at once, where lives and counts say. */
function expected(births: readonly Parts[]): number {
  let sum = 0;
  for (const parts of births) {
    if (parts.what !== "births") continue;
    const { rate, count, when, life, every } = emittingOf(parts);
    const seconds = plainNumber(life) ?? 3;
    if (when === "at a rate") sum += rate * (seconds > 0 ? seconds * 1.3 : 10);
    else if (when === "in bursts") sum += count * Math.max(1, (seconds * 1.3) / every);
    else sum += count;
  }
  return sum;
}

/** With how far each is through its life, and with what flows carry it added to its speed. */
function shown(particles: Domain, { forces, acceleration }: Inputs, context: NodeContext): Domain {
  const { flow } = forcesOf(forces);
  const own = velocityField();
  const [share, ...speeds] = context.run([agedField(), ...(flow ? zip("add", flow, own) : [])], particles);
  return withColumns(particles, {
    [AGED]: makeColumn("number", [share]),
    ...(flow ? { velocity: makeColumn("vector", speeds) } : {}),
    ...(acceleration ? { acceleration: makeColumn("vector", accelerationOf(particles, forces)) } : {}),
  });
}

/** Units from the origin beyond which something has gone wrong. */
const FAR = 1e6;

function tell({ births, forces, most, substeps }: Inputs, particles: Domain, context: NodeContext): void {
  const filled = births.filter((parts) => parts.what === "births");
  if (filled.length === 0)
    context.warn('No emitter is linked, so nothing is born. Link an "Emitter", or a shape.', {
      input: "births",
    });
  else if (filled.every(({ shapes, settings }) => !isFilled(shapes.shape) && settings.from !== "what dies"))
    context.warn("The emitters have no shape, so nothing is born.", { input: "births" });
  if (particles.count >= most && most > 0)
    context.note(`There are ${most}, the most that "most" allows; more are born as others end.`);
  const terminal = terminalSpeed(forces);
  if (terminal !== null)
    context.note(`Push and drag are even at ${round(terminal)} units a second: that is where they end up.`);
  if (particles.count === 0) return;
  const fastest = greatest(particles.columns.velocity.lanes);
  const furthest = greatest(particles.columns.position.lanes);
  if (furthest > FAR)
    context.warn(
      `They fly apart, up to ${round(furthest)} units away: forces change too much from step to step.`,
      {
        input: "substeps",
        repair: {
          label: `Make ${Math.min(64, substeps * 4)} steps a frame`,
          input: "substeps",
          value: Math.min(64, substeps * 4),
        },
      },
    );
  else if (fastest > 0)
    context.note(
      `The fastest goes ${round(fastest / context.time.framesPerSecond / substeps)} units a step.`,
    );
}

/** Particles whose numbers are looked at for what is said of them. */
const LOOKED_AT = 100_000;

const greatest = (lanes: readonly Lane[]): number =>
  greatestOf(lanes.map((lane) => lane.subarray(0, LOOKED_AT)));

const round = (value: number): string => String(Number(value.toPrecision(2)));
