import { tick } from "../../cancelling";
import { column } from "../../fields/expression";
import { runValues } from "../../fields/run";
import { withKin } from "../../geometry/across";
import { makeColumn, makeFloats } from "../../geometry/column";
import { placedName } from "../../geometry/domains";
import type { Shape } from "../../geometry/shape";
import type { Incidence } from "../../geometry/topology";
import { neighboursOf } from "../../growth/element-neighbours";
import { PATTERNS, type Pattern, type Reaction, reacted, seeded, substancesOf } from "../../growth/reaction";
import { hash3, unit24 } from "../../maths/random";
import type { Stepping } from "../../simulate/state";
import { defineNode, type Resolved } from "../define";
import { type Elements, elementsOf, withElements } from "../elements";
import { choice, field, integer, number, out, shape } from "../ports";
import { runUpInput } from "./step-inputs";

const AS_SET = "as set below";
const CHOICES = [...(Object.keys(PATTERNS) as Pattern[]), AS_SET] as const;
/** What feeds stands at about this where a pattern is. */
const FULL = 0.3;

const INPUTS = {
  shape: shape({ about: "A mesh of many points, or sites: the pattern grows from each to its neighbours." }),
  pattern: choice(CHOICES, { about: "What it becomes." }),
  feed: field.number({
    default: 0.03,
    min: 0,
    max: 0.2,
    soft: [0.01, 0.08],
    shownWhen: { input: "pattern", is: [AS_SET] },
    about: "How fast food comes in; by place, if you link a field.",
  }),
  kill: field.number({
    default: 0.062,
    min: 0,
    max: 0.2,
    soft: [0.04, 0.07],
    shownWhen: { input: "pattern", is: [AS_SET] },
    about: "How fast what feeds on it dies.",
  }),
  size: number({
    default: 1,
    min: 0.1,
    max: 8,
    soft: [0.5, 3],
    unit: "×",
    about: "How wide the pattern is; in steps from point to point, so a finer mesh has finer ones.",
  }),
  seeds: integer({
    default: 24,
    min: 0,
    max: 10_000,
    soft: [0, 200],
    about: "Places by chance where it begins.",
  }),
  start: field.number({
    default: 0,
    min: 0,
    max: 1,
    soft: [0, 1],
    about: "Where it begins besides: a falloff, a painted mask. It is read at the first frame.",
  }),
  steps: integer({ default: 16, min: 0, max: 500, soft: [0, 60], about: "In each frame." }),
  runUp: runUpInput("Frames worked out before the first, so that the pattern stands already."),
};

type Inputs = Resolved<typeof INPUTS>;

/** Steps from point to point that a place where it begins is wide, at size 1: narrower ones die out. */
const BLOT = 3;

/** How much there is at first: where a field says so, and around places by chance. */
function startOf({ shape, seeds, start, size }: Inputs, neighbours: Incidence, seed: number): Float32Array {
  const on = placedName(shape);
  if (!on) return new Float32Array(0);
  const [said] = runValues([start], withKin(shape, on), { onlyFinite: true }).lanes;
  const all = Float32Array.from(said);
  for (let s = 0; s < seeds && all.length > 0; s++)
    blot(all, Math.floor(unit24(hash3(seed, s, 0)) * all.length), neighbours, Math.ceil(BLOT * size));
  return all;
}

/** 1 for an element and all that are so many steps from it. */
function blot(all: Float32Array, middle: number, { starts, items }: Incidence, steps: number): void {
  let ring = [middle];
  const reached = new Set(ring);
  for (let step = 0; step < steps; step++) {
    tick(ring.length);
    const next: number[] = [];
    for (const i of ring)
      for (let k = starts[i]; k < starts[i + 1]; k++)
        if (!reached.has(items[k])) {
          reached.add(items[k]);
          next.push(items[k]);
        }
    ring = next;
  }
  for (const i of reached) all[i] = 1;
}

const NOTHING: Reaction = seeded([]);

const stepping: Stepping<Inputs, Reaction> = {
  runUp: "runUp",
  start(inputs, { seed }) {
    const neighbours = neighboursOf(inputs.shape);
    return neighbours ? seeded(startOf(inputs, neighbours, seed)) : NOTHING;
  },
  step(before, inputs, { seconds, fps, seed }) {
    const { shape, pattern, feed, kill, size, steps } = inputs;
    const neighbours = neighboursOf(shape);
    const on = placedName(shape);
    if (!neighbours || !on) return NOTHING;
    const count = neighbours.starts.length - 1;
    const from = before.domains.elements.count === count ? before : seeded(startOf(inputs, neighbours, seed));
    const [fed, killed] =
      pattern === AS_SET
        ? runValues([feed, kill], withKin(shape, on), { onlyFinite: true }).lanes
        : PATTERNS[pattern].map((rate) => makeFloats(count).fill(rate));
    return reacted(from, neighbours, { feed: fed, kill: killed, size }, Math.round(steps * seconds * fps));
  },
};

export const spotsAndStripes = defineNode({
  type: "spots-and-stripes",
  family: "simulate",
  title: "Spots and stripes",
  about: "Patterns as on shells and hides, which grow by themselves over a mesh or from site to site.",
  synonyms: [
    "reaction diffusion",
    "turing pattern",
    "gray-scott",
    "coral pattern",
    "leopard",
    "zebra",
    "maze",
    "organic pattern",
  ],
  inputs: INPUTS,
  outputs: {
    shape: out.shape("The same; `pattern` is 0 to 1, `food` what is left."),
    pattern: out.number("The pattern, 0 to 1: to colour, dent or scale by."),
  },
  summary: ({ pattern, steps }) => `${pattern}, ${steps} steps a frame`,
  cost: ({ shape: { mesh, sites }, steps, size }) => ({
    milliseconds: (sites?.count ?? mesh?.points.count ?? 0) * steps * Math.ceil(size * size) * 0.00001,
  }),
  stepping,
  evaluate({ shape }, context) {
    const state = context.carried<Reaction>();
    const elements = elementsOf(shape, context);
    const pattern = column("pattern", 0, 0);
    return { shape: elements ? patterned(shape, elements, state) : shape, pattern };
  },
});

function patterned(shape: Shape, elements: Elements, state: Reaction): Shape {
  const [food, eater] = substancesOf(state);
  const shown = makeFloats(eater.length);
  for (let i = 0; i < shown.length; i++) shown[i] = Math.min(1, Math.max(0, eater[i] / FULL));
  return withElements(shape, elements, {
    pattern: makeColumn("number", [shown]),
    food: makeColumn("number", [food]),
  });
}
