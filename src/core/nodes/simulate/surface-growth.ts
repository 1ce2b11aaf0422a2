import { add, apply, constant, divide, positionField, scaleBy, type Value } from "../../fields/expression";
import { runValues } from "../../fields/run";
import type { Domain } from "../../geometry/column";
import { placesOf } from "../../geometry/domains";
import type { Mesh } from "../../geometry/mesh";
import { begunSurface, grownSurface, type SurfaceSettings } from "../../growth/surface";
import { hash3 } from "../../maths/random";
import { triangulated } from "../../meshes/triangulated";
import type { State, Stepping } from "../../simulate/state";
import { PointGrid } from "../../spatial/point-grid";
import { defineNode, type Resolved } from "../define";
import { field, integer, length, number, out, shape, toggle } from "../ports";
import { runUpInput } from "./step-inputs";

const INPUTS = {
  shape: shape({ about: "A mesh; its faces are cut into triangles." }),
  seeds: shape({
    about: "Where it begins: sites, points or curves near to it. Without any all of it grows.",
  }),
  reach: length({
    default: 0.2,
    min: 0,
    soft: [0.02, 1],
    about: "How far from those it has all its vigour.",
  }),
  soft: length({ default: 0.2, min: 0, soft: [0, 1], about: "Over how much farther that fades to nothing." }),
  vigour: field.number({
    default: 1,
    min: 0,
    max: 1,
    soft: [0, 1],
    about: "Times that, by a field or a painted mask at the first frame.",
  }),
  speed: number({
    default: 0.008,
    soft: [-0.05, 0.05],
    about: "How far it goes along its facings in a round.",
  }),
  noise: number({
    default: 0.6,
    min: 0,
    soft: [0, 2],
    label: "unevenness",
    about: "How much some parts run ahead of others.",
  }),
  noiseSize: length({
    default: 0.4,
    min: 0.001,
    soft: [0.05, 2],
    label: "noise size",
    about: "How wide those parts are.",
  }),
  lean: field.vector({
    default: [0, 0, 0],
    soft: [-1, 1],
    about: "Added to the facing: gravity, light, a swirl.",
  }),
  edge: length({
    default: 0.06,
    min: 0.002,
    soft: [0.02, 0.2],
    label: "edge length",
    about: "Finer edges make finer frills, and more of them.",
  }),
  remeshRounds: integer({
    default: 1,
    min: 0,
    max: 5,
    soft: [0, 3],
    label: "remesh rounds",
    about: "How even edges are made each time.",
  }),
  apart: length({
    default: 0.09,
    min: 0,
    soft: [0, 0.3],
    label: "push radius",
    about: "How far points keep from each other; above the edge length it spreads and folds.",
  }),
  pushRounds: integer({
    default: 1,
    min: 0,
    max: 10,
    soft: [0, 4],
    label: "push rounds",
    about: "How often they are pushed.",
  }),
  smoothRounds: integer({
    default: 1,
    min: 0,
    max: 20,
    soft: [0, 5],
    label: "smoothing rounds",
    about: "Of what moved; all else keeps its form.",
  }),
  borders: toggle({
    default: false,
    label: "borders stay",
    about: "Whether open edges stay where they are.",
  }),
  rounds: integer({ default: 1, min: 0, max: 10, soft: [0, 4], about: "In each frame." }),
  most: integer({
    default: 12_000,
    min: 3,
    max: 200_000,
    soft: [2000, 50_000],
    label: "points at most",
    about: "Then it stops.",
  }),
  runUp: runUpInput("Frames grown before the first."),
};

type Inputs = Resolved<typeof INPUTS>;

interface Grown extends State {
  readonly shapes: { readonly surface: { readonly mesh?: Mesh } };
  readonly numbers: { readonly rounds: readonly [number] };
}

const stateOf = (mesh: Mesh | undefined, rounds: number): Grown => ({
  shapes: { surface: mesh ? { mesh } : {} },
  numbers: { rounds: [rounds] },
});

/** All within reach of a seed has vigour 1, and it fades over `soft`. */
function vigourOf({ seeds, reach, soft, vigour }: Inputs, points: Domain): Float32Array {
  const [times] = runValues([vigour], points, { onlyFinite: true }).lanes;
  const from = placesOf(seeds);
  if (!from || from.count === 0) return Float32Array.from(times);
  const { distances } = new PointGrid(from.columns.position.lanes).nearest(
    points.columns.position.lanes.map((lane) => Float32Array.from(lane)),
  );
  return Float32Array.from(times, (v, p) => {
    const part =
      soft > 0
        ? Math.min(1, Math.max(0, (reach + soft - distances[p]) / soft))
        : Number(distances[p] <= reach);
    return Math.min(1, Math.max(0, v)) * part * part * (3 - 2 * part);
  });
}

function begun(inputs: Inputs): Mesh | undefined {
  const { mesh } = inputs.shape;
  if (!mesh || mesh.faces.count === 0) return undefined;
  const made = triangulated(mesh);
  return begunSurface(made, vigourOf(inputs, made.points));
}

/** 1, and more or less of it by a noise that moves on with the rounds. */
function wildness({ noise, noiseSize }: Inputs, seed: number, round: number): Value {
  if (noise === 0) return constant(1);
  const at = positionField().map((p) => divide(p, constant(noiseSize)));
  const seeds = hash3(seed, 23, 0);
  const options = { octaves: 1, roughness: 0.5, lacunarity: 2, w: round * SLOW, period: 0 };
  const one = apply("noise", at, { key: JSON.stringify([seeds, options]), seed: seeds, ...options });
  return add(constant(1), scaleBy(one, constant(2 * noise)));
}

/** Steps of the noise in a round. */
const SLOW = 0.02;

const stepping: Stepping<Inputs, Grown> = {
  runUp: "runUp",
  start: (inputs) => stateOf(begun(inputs), 0),
  step(before, inputs, { seconds, fps, seed }) {
    const [done] = before.numbers.rounds;
    const { speed, edge, remeshRounds, apart, pushRounds, smoothRounds, borders, most, lean } = inputs;
    const settings: SurfaceSettings = {
      speed,
      edge,
      remeshRounds,
      apart,
      pushRounds,
      smoothRounds,
      keepsBorders: borders,
      most,
      lean: (points) => runValues(lean, points, { onlyFinite: true }).lanes,
      wild: (points, round) =>
        runValues([wildness(inputs, seed, round)], points, { onlyFinite: true }).lanes[0],
    };
    let { mesh } = before.shapes.surface;
    const more = Math.round(inputs.rounds * seconds * fps);
    for (let round = 1; round <= more && mesh; round++) mesh = grownSurface(mesh, settings, done + round);
    return stateOf(mesh, done + more);
  },
};

export const surfaceGrowth = defineNode({
  type: "surface-growth",
  family: "simulate",
  title: "Surface growth",
  about:
    "A surface that grows out from where it begins, gets more of itself and frills: corals, petals, lichens.",
  synonyms: [
    "differential growth",
    "frill",
    "coral",
    "ruffle",
    "lichen",
    "cabbage",
    "brain",
    "organic surface",
    "bloom",
  ],
  inputs: INPUTS,
  outputs: {
    shape: out.shape("The mesh; points have `age` in rounds, `moved` in units, and `vigour`."),
  },
  summary: ({ edge, speed }) => `edges of ${edge}, ${speed} a round`,
  cost: ({ most, rounds }) => ({ points: most, faces: most * 2, milliseconds: most * rounds * 0.02 }),
  stepping,
  evaluate(inputs, context) {
    const { shape, edge, apart, most } = inputs;
    const { mesh } = context.carried<Grown>().shapes.surface;
    if (!shape.mesh || !mesh) {
      context.warn("No mesh arrives, so nothing grows.", { input: "shape" });
      return { shape };
    }
    if (mesh.points.count >= most)
      context.note(
        `It has as many points as it may, ${mesh.points.count}, and grows no more. Longer edges leave more room.`,
      );
    const { vigour } = mesh.points.columns;
    if (vigour.lanes[0].every((v) => v === 0))
      context.warn("No part of the mesh is near to where it begins, so nothing grows.", {
        input: "seeds",
        repair: { label: "Reach farther", input: "reach", value: inputs.reach * 4 || 1 },
      });
    if (apart > edge * 3)
      context.warn("Points are pushed much farther than edges are long, so it tears itself apart.", {
        input: "apart",
        repair: { label: "One and a half edges", input: "apart", value: edge * 1.5 },
      });
    return { shape: { ...shape, mesh } };
  },
});
