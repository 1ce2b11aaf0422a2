import { runValues } from "../../fields/run";
import type { Curves } from "../../geometry/curves";
import type { Mesh } from "../../geometry/mesh";
import { begun, grownLines, type LineSettings } from "../../growth/lines";
import type { State, Stepping } from "../../simulate/state";
import { defineNode, type Resolved } from "../define";
import { choice, field, integer, length, number, out, shape } from "../ports";
import { heldOn, heldWithin } from "./held-places";
import { runUpInput } from "./step-inputs";

const FREE = "free";
const WHERE = [FREE, "within walls", "on a surface"] as const;

const INPUTS = {
  shape: shape({ about: "Curves, open or closed: a ring, a word, a drawn path." }),
  apart: length({
    default: 0.12,
    min: 0,
    soft: [0.02, 0.5],
    about: "How far parts of the line keep from each other.",
  }),
  edge: length({
    default: 0.06,
    min: 0.001,
    soft: [0.01, 0.3],
    label: "longest edge",
    about: "Between two points; a longer one gets another point. About half of apart serves well.",
  }),
  growth: field.number({
    default: 0.01,
    min: 0,
    max: 1,
    soft: [0, 0.1],
    about: "Chance of each edge to get another point in a round; by a field it grows where you want.",
  }),
  pull: number({
    default: 0.3,
    min: 0,
    max: 1,
    soft: [0, 0.6],
    label: "stiffness",
    about: "How much of the way each point goes to the middle of its neighbours.",
  }),
  push: number({
    default: 0.5,
    min: 0,
    max: 1,
    soft: [0, 1],
    about: "How much of what is missing between two parts one round makes up.",
  }),
  held: field.number({
    default: 0,
    min: 0,
    max: 1,
    soft: [0, 1],
    label: "hold",
    about: "1 keeps points where they are.",
  }),
  where: choice(WHERE, { about: "Where it may go." }),
  region: shape({
    shownWhen: { input: "where", is: [...WHERE.slice(1)] },
    about: "A closed mesh whose walls it keeps within, or the surface that it grows on.",
  }),
  rounds: integer({ default: 3, min: 0, max: 100, soft: [1, 10], about: "In each frame." }),
  most: integer({
    default: 12_000,
    min: 3,
    max: 200_000,
    soft: [1000, 50_000],
    label: "points at most",
    about: "Then it only moves.",
  }),
  runUp: runUpInput("Frames grown before the first."),
};

type Inputs = Resolved<typeof INPUTS>;

interface GrownLine extends State {
  readonly shapes: { readonly line: { readonly curves?: Curves } };
  readonly numbers: { readonly rounds: readonly [number] };
}

const holdOf = ({ where, region }: Inputs): LineSettings["hold"] => {
  const mesh: Mesh | undefined = region?.mesh;
  if (where === FREE || !mesh || mesh.faces.count === 0) return null;
  return where === "on a surface" ? heldOn(mesh) : heldWithin(mesh);
};

const stateOf = (curves: Curves | undefined, rounds: number): GrownLine => ({
  shapes: { line: curves ? { curves } : {} },
  numbers: { rounds: [rounds] },
});

const stepping: Stepping<Inputs, GrownLine> = {
  runUp: "runUp",
  start: ({ shape: { curves } }) => stateOf(curves && begun(curves), 0),
  step(before, inputs, { seconds, fps, seed }) {
    const { apart, edge, pull, push, growth, held, rounds, most } = inputs;
    const [done] = before.numbers.rounds;
    const settings: LineSettings = {
      apart,
      edge,
      pull,
      push,
      growth: (points) => runValues([growth], points, { onlyFinite: true }).lanes[0],
      held: (points) => runValues([held], points, { onlyFinite: true }).lanes[0],
      hold: holdOf(inputs),
      most,
      seed,
    };
    let { curves } = before.shapes.line;
    const more = Math.round(rounds * seconds * fps);
    for (let round = 1; round <= more && curves; round++) curves = grownLines(curves, settings, done + round);
    return stateOf(curves, done + more);
  },
};

export const lineGrowth = defineNode({
  type: "line-growth",
  family: "simulate",
  title: "Line growth",
  about:
    "Lines that grow longer than there is room for, and fold without ever crossing: brains, corals, lace.",
  synonyms: [
    "differential growth",
    "differential line",
    "folding line",
    "meander",
    "brain coral",
    "space filling",
    "organic line",
  ],
  inputs: INPUTS,
  outputs: { shape: out.shape("The curves; points have `age`, in rounds since they came in.") },
  summary: ({ apart, rounds }) => `${apart} apart, ${rounds} rounds a frame`,
  cost: ({ shape: { curves }, most, rounds }) => ({
    points: curves ? most : 0,
    milliseconds: (curves ? most : 0) * rounds * 0.0006,
  }),
  stepping,
  evaluate(inputs, context) {
    const { shape, where, region, edge, most, apart } = inputs;
    if (!shape.curves || shape.curves.points.count === 0) {
      context.warn("No curves arrive, so nothing grows.", { input: "shape" });
      return { shape };
    }
    if (where !== FREE && !region?.mesh?.faces.count)
      context.warn("No mesh arrives that could hold it, so it is free.", { input: "region" });
    if (edge > apart && apart > 0)
      context.warn("Edges are longer than parts keep apart, so the line can slip through itself.", {
        input: "edge",
        repair: { label: "Half of apart", input: "edge", value: apart / 2 },
      });
    const { curves } = context.carried<GrownLine>().shapes.line;
    if (curves && curves.points.count >= most)
      context.note(`It has as many points as it may, ${most}, and only moves.`);
    return { shape: curves ? { curves } : shape };
  },
});
