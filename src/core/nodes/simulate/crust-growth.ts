import { makeColumn, withColumns } from "../../geometry/column";
import { type Curves, mergeCurves } from "../../geometry/curves";
import { EMPTY_SHAPE, makeSites } from "../../geometry/shape";
import { seenBranches } from "../../growth/branch-curves";
import { type Crust, grownCrust, seededCrust } from "../../growth/crust";
import { fromAxisAngle, type Quaternion, RADIANS, rotate } from "../../maths/quaternion";
import { type Vec3, Y_AXIS } from "../../maths/vector";
import type { State, Stepping } from "../../simulate/state";
import { defineNode, type Resolved } from "../define";
import { integer, length, number, out, shape, toggle, vector } from "../ports";
import { beginningsOf, runUpInput } from "./step-inputs";

const INPUTS = {
  from: shape({ about: "Where it begins: sites or points; one in the middle of the stage without any." }),
  size: length({
    default: 0.08,
    min: 0.001,
    soft: [0.02, 0.3],
    about: "From one particle to the one that it sticks to.",
  }),
  rate: number({ default: 12, min: 0, soft: [1, 60], label: "particles", about: "That come in each frame." }),
  most: integer({
    default: 4000,
    min: 1,
    max: 100_000,
    soft: [100, 10_000],
    label: "at most",
    about: "Then it is done.",
  }),
  stick: number({
    default: 1,
    min: 0.01,
    max: 1,
    soft: [0.05, 1],
    about: "Chance to stick at a touch. Less lets them creep in and makes it denser.",
  }),
  drift: vector({
    default: [0, 0, 0],
    soft: [-0.5, 0.5],
    about: "Where particles are carried while they wander, in parts of a step: it grows against that.",
  }),
  flat: toggle({ default: false, about: "In one plane, lying down: frost on glass, lichens." }),
  fold: integer({
    default: 1,
    min: 1,
    max: 24,
    soft: [1, 8],
    label: "turned copies",
    about: "About the upright axis, as snowflakes have six.",
  }),
  tip: length({
    default: 0.01,
    min: 0,
    soft: [0.002, 0.05],
    about: "Radius of the thinnest twigs of its branches.",
  }),
  exponent: number({
    default: 3,
    min: 1,
    max: 8,
    soft: [2, 4],
    about: "How radii add up where twigs meet; more makes thinner stems.",
  }),
  runUp: runUpInput("Frames grown before the first."),
};

type Inputs = Resolved<typeof INPUTS>;

interface Grown extends State {
  readonly domains: Crust["domains"];
  readonly numbers: {
    /** Particles that time has brought so far, and parts of one. */
    readonly progress: readonly [number];
  };
}

const withProgress = ({ domains }: Crust, progress: number): Grown => ({
  domains,
  numbers: { progress: [progress] },
});

const stepping: Stepping<Inputs, Grown> = {
  runUp: "runUp",
  start: ({ from }) => withProgress(seededCrust(beginningsOf(from)), 0),
  step(before, { size, rate, most, stick, drift, flat }, { seconds, fps, seed }) {
    const [done] = before.numbers.progress;
    const progress = Math.min(most, done + rate * seconds * fps);
    const first = Math.floor(done + 1e-6);
    const more = Math.floor(progress + 1e-6) - first;
    return withProgress(grownCrust(before, { size, stick, drift, flat, seed }, first, more), progress);
  },
};

export const crustGrowth = defineNode({
  type: "crust-growth",
  family: "simulate",
  title: "Crust growth",
  about: "Particles that wander until they touch and stick: frost, crystals, corals, lichens, lightning.",
  synonyms: [
    "diffusion limited aggregation",
    "dla",
    "frost",
    "crystal",
    "snowflake",
    "dendrite",
    "coral",
    "aggregation",
  ],
  inputs: INPUTS,
  outputs: {
    shape: out.shape("Sites, one a particle; `born` is its number, `along` how late it came."),
    branches: out.shape(
      "Curves from where it begins to its tips; points have `radius`. Put a tube around them.",
    ),
  },
  summary: ({ rate, most }) => `${rate} a frame, ${most} at most`,
  cost: ({ rate, most }) => ({ points: most, milliseconds: rate * 0.1 }),
  stepping,
  evaluate({ fold, tip, exponent, most }, context) {
    const state = context.carried<Grown>();
    const { nodes } = state.domains;
    const turns = Array.from({ length: fold }, (_, k) => fromAxisAngle(Y_AXIS, (360 / fold) * k * RADIANS));
    const [x, y, z] = nodes.columns.position.lanes;
    const [born] = nodes.columns.born.lanes;
    const { count } = nodes;
    const sites = makeSites(count * fold, ({ position, rotation, along }) => {
      for (const [k, turn] of turns.entries())
        for (let n = 0; n < count; n++) {
          const to = k * count + n;
          const place = rotate(turn, [x[n], y[n], z[n]]);
          for (let a = 0; a < 3; a++) position[a][to] = place[a];
          for (let a = 0; a < 4; a++) rotation[a][to] = turn[a];
          along[to] = born[n] / most;
        }
    });
    const { curves } = seenBranches(
      state.domains.nodes,
      // So many have come: the last one has been there for one.
      Math.floor(state.numbers.progress[0] + 1e-6),
      { tip, exponent, part: 1 },
    );
    const numbers = Float32Array.from({ length: sites.count }, (_, i) => born[i % count]);
    return {
      shape: { sites: withColumns(sites, { born: makeColumn("number", [numbers]) }) },
      branches: curves ? { curves: turned(curves, turns) } : EMPTY_SHAPE,
    };
  },
});

/** All turned copies of curves as one. */
function turned(curves: Curves, turns: readonly Quaternion[]): Curves {
  const copies = turns.map((turn) => {
    const lanes = curves.points.columns.position.lanes;
    const places = lanes.map((lane) => new Float32Array(lane.length));
    for (let p = 0; p < lanes[0].length; p++) {
      const to: Vec3 = rotate(turn, [lanes[0][p], lanes[1][p], lanes[2][p]]);
      for (let a = 0; a < 3; a++) places[a][p] = to[a];
    }
    return { ...curves, points: withColumns(curves.points, { position: makeColumn("vector", places) }) };
  });
  return mergeCurves(copies) ?? curves;
}
