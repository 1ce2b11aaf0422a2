import type { VectorField } from "../../fields/expression";
import { runValues } from "../../fields/run";
import { makeColumn } from "../../geometry/column";
import { placesOf } from "../../geometry/domains";
import { EMPTY_SHAPE } from "../../geometry/shape";
import { seenBranches } from "../../growth/branch-curves";
import { type Branches, type BranchSettings, grownBranches, rooted } from "../../growth/branches";
import type { State, Stepping } from "../../simulate/state";
import { defineNode, type Resolved } from "../define";
import { choice, field, length, number, out, shape } from "../ports";
import { beginningsOf, runUpInput } from "./step-inputs";

const KEEP = "they keep what has grown";
const ANEW = "they grow anew";
/** Nodes that a tree has at most. */
const MOST = 200_000;

const INPUTS = {
  from: shape({ about: "Where branches begin: sites or points; the middle of the stage without any." }),
  towards: shape({
    about: "What they seek, as light or food: sites, or points. Scatter them where the crown is to be.",
  }),
  step: length({ default: 0.08, min: 0.0001, soft: [0.02, 0.3], about: "From one joint to the next." }),
  influence: length({
    default: 0.6,
    min: 0,
    soft: [0.1, 3],
    about: "How far away anything is sought; smaller makes branches that wind more.",
  }),
  kill: length({
    default: 0.16,
    min: 0,
    soft: [0.02, 0.5],
    label: "used up",
    about: "How near it has come when it is used up: twice the step serves well.",
  }),
  straight: number({
    default: 0.3,
    min: 0,
    soft: [0, 2],
    about: "How much of the direction so far is kept.",
  }),
  lean: field.vector({
    default: [0, 0, 0],
    soft: [-1, 1],
    about: "What else draws each joint: upwards, down, a wind or a noise.",
  }),
  speed: number({
    default: 1,
    min: 0,
    soft: [0.1, 4],
    label: "joints",
    about: "That a branch grows in each frame.",
  }),
  moving: choice([KEEP, ANEW], {
    label: "when they move",
    about: "Whether what has grown stays when what is sought moves, or grows anew at each frame.",
  }),
  tip: length({ default: 0.012, min: 0, soft: [0.002, 0.05], about: "Radius of the thinnest twigs." }),
  exponent: number({
    default: 2.4,
    min: 1,
    max: 8,
    soft: [2, 3],
    about: "How radii add up where branches meet: 2 keeps their area, more makes thinner stems.",
  }),
  runUp: runUpInput("Frames grown before the first."),
};

type Inputs = Resolved<typeof INPUTS>;

interface Grown extends State {
  readonly domains: Branches["domains"];
  readonly numbers: Branches["numbers"] & {
    /** Rounds that time has brought so far, and parts of one. */
    readonly progress: readonly [number];
  };
}

const withProgress = (branches: Branches, progress: number): Grown => ({
  domains: branches.domains,
  numbers: { ...branches.numbers, progress: [progress] },
});

const settingsOf = (inputs: Inputs): BranchSettings => ({
  step: inputs.step,
  influence: inputs.influence,
  kill: Math.max(inputs.kill, inputs.step * 0.5),
  straight: inputs.straight,
  lean: (places) => leanAt(inputs.lean, places),
  mostNodes: MOST,
});

function leanAt(lean: VectorField, places: readonly ArrayLike<number>[]): readonly ArrayLike<number>[] {
  const lanes = places.map((lane) => Float32Array.from(lane));
  const domain = { count: lanes[0].length, columns: { position: makeColumn("vector", lanes) } };
  return runValues(lean, domain, { onlyFinite: true }).lanes;
}

const stepping: Stepping<Inputs, Grown> = {
  runUp: "runUp",
  start: ({ from }) => withProgress(rooted(beginningsOf(from)), 0),
  step(before, inputs, { seconds, fps }) {
    const progress = before.numbers.progress[0] + inputs.speed * seconds * fps;
    const attractors = placesOf(inputs.towards)?.columns.position.lanes ?? [];
    const from = inputs.moving === ANEW ? rooted(beginningsOf(inputs.from)) : before;
    const rounds = Math.ceil(progress - 1e-6) - from.numbers.rounds[0];
    return withProgress(grownBranches(from, attractors, settingsOf(inputs), rounds), progress);
  },
};

export const branchGrowth = defineNode({
  type: "branch-growth",
  family: "simulate",
  title: "Branch growth",
  about:
    "Branches that seek what is around them, as trees do light, and grow thick where many come together.",
  synonyms: [
    "space colonization",
    "tree",
    "roots",
    "veins",
    "lightning",
    "coral",
    "leaf venation",
    "attractors",
    "plant",
  ],
  inputs: INPUTS,
  outputs: {
    shape: out.shape("Curves; points have `radius` and `age` in joints. Put a tube around them."),
    tips: out.shape("Where they end, y going on: for leaves and buds, by `age`."),
  },
  summary: ({ step, influence }) => `joints of ${step}, seeking ${influence} far`,
  cost: ({ towards }) => ({ milliseconds: (placesOf(towards)?.count ?? 0) * 0.002 }),
  stepping,
  evaluate(inputs, context) {
    const state = context.carried<Grown>();
    const { towards, step, tip, exponent } = inputs;
    if (!placesOf(towards)?.count)
      context.warn("Nothing arrives that branches could seek. Link sites to towards.", { input: "towards" });
    else if (inputs.kill < step * 0.5)
      context.warn("Nothing is used up so near: half a joint is taken.", { input: "kill" });
    const { count } = state.domains.nodes;
    if (count >= MOST)
      context.warn(`It stops at ${MOST} joints. Make joints longer, or let less be sought.`, {
        input: "step",
      });
    const [progress] = state.numbers.progress;
    const part = Math.min(1, Math.max(0, progress - state.numbers.rounds[0] + 1));
    const { curves, tips } = seenBranches(state.domains.nodes, state.numbers.rounds[0], {
      tip,
      exponent,
      part: part || 1,
    });
    return { shape: curves ? { curves } : EMPTY_SHAPE, tips: { sites: tips } };
  },
});
