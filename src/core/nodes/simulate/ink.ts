import { column } from "../../fields/expression";
import { runValues } from "../../fields/run";
import { withKin } from "../../geometry/across";
import { makeColumn, makeFloats } from "../../geometry/column";
import { placedName } from "../../geometry/domains";
import { type Ink, inkLater, inkOf, layersOfInk, waysOf } from "../../growth/ink";
import type { Stepping } from "../../simulate/state";
import { defineNode, type Resolved } from "../define";
import { elementsOf, withElements } from "../elements";
import { field, number, out, shape } from "../ports";
import { runUpInput } from "./step-inputs";

const INPUTS = {
  shape: shape({ about: "A mesh of many points, curves or sites: ink flows from each to its neighbours." }),
  pour: field.number({
    default: 0,
    min: 0,
    soft: [0, 4],
    unit: "×",
    about: "Ink that comes in a second, 1 being full colour: a falloff that moves draws a line.",
  }),
  start: field.number({
    default: 0,
    min: 0,
    soft: [0, 8],
    unit: "×",
    about: "Ink that is there at the first frame: drops, a painted mask.",
  }),
  spread: number({
    default: 0.02,
    min: 0,
    soft: [0, 0.2],
    about:
      "How fast it spreads, in square units a second: after 1 s a drop is about the root of four times this wide.",
  }),
  draw: field.number({
    default: 1,
    min: 0,
    max: 1,
    soft: [0, 1],
    about: "How readily each place takes it up: fibres by a noise, a resist by a mask.",
  }),
  hold: number({
    default: 0.25,
    min: 0,
    soft: [0, 1],
    unit: "×",
    about: "What stays where it is and flows no farther: more gives smaller blots with harder edges.",
  }),
  run: number({
    default: 0,
    min: 0,
    soft: [0, 2],
    unit: "units",
    label: "runs down",
    about: "How far it runs in a second where the shape is steep.",
  }),
  dry: number({ default: 0.1, min: 0, soft: [0, 2], label: "dries", about: "How much of it in a second." }),
  runUp: runUpInput("Frames worked out before the first, so that it has spread already."),
};

type Inputs = Resolved<typeof INPUTS>;

const NOTHING = inkOf(new Float32Array(0), new Float32Array(0));

function atFirst({ shape, start }: Inputs): Ink {
  const on = placedName(shape);
  if (!on) return NOTHING;
  const [said] = runValues([start], withKin(shape, on), { onlyFinite: true }).lanes;
  const wet = makeFloats(said.length);
  for (let i = 0; i < wet.length; i++) wet[i] = Math.max(0, said[i]);
  return inkOf(wet, new Float32Array(wet.length));
}

const stepping: Stepping<Inputs, Ink> = {
  runUp: "runUp",
  start: atFirst,
  step(before, inputs, { seconds }) {
    const { shape, pour, draw, spread, hold, run, dry } = inputs;
    const ways = waysOf(shape);
    const on = placedName(shape);
    if (!ways || !on) return NOTHING;
    const from = before.domains.elements.count === ways.areas.length ? before : atFirst(inputs);
    const [poured, drawn] = runValues([pour, draw], withKin(shape, on), { onlyFinite: true }).lanes;
    return inkLater(from, ways, { pour: poured, draw: drawn, spread, hold, run, dry }, seconds);
  },
};

export const ink = defineNode({
  type: "ink",
  family: "simulate",
  title: "Ink",
  about: "Ink that spreads over a surface, along lines or from site to site, runs down, and dries.",
  synonyms: ["ink", "watercolour", "bleed", "stain", "blot", "wet", "capillary", "diffusion", "soak", "dye"],
  inputs: INPUTS,
  outputs: {
    shape: out.shape("The same; `wet` is what still flows, `stain` what has dried, `ink` both, 0 to 1."),
    ink: out.number("How dark it is, 0 to 1: to colour or dent by."),
  },
  summary: ({ run }) => (run ? "runs down" : ""),
  cost: ({ shape: { mesh, sites, curves }, spread }) => ({
    milliseconds:
      (sites?.count ?? mesh?.points.count ?? curves?.points.count ?? 0) * (0.0002 + spread * 0.002),
  }),
  stepping,
  evaluate({ shape }, context) {
    const elements = elementsOf(shape, context);
    const ink = column("ink", 0, 0);
    if (!elements) return { shape, ink };
    const [wet, stain] = layersOfInk(context.carried<Ink>());
    const dark = makeFloats(wet.length);
    for (let i = 0; i < dark.length; i++) dark[i] = Math.min(1, wet[i] + stain[i]);
    const columns = {
      wet: makeColumn("number", [wet]),
      stain: makeColumn("number", [stain]),
      ink: makeColumn("number", [dark]),
    };
    return { shape: withElements(shape, elements, columns), ink };
  },
});
