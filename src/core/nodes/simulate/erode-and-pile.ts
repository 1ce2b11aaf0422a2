import { runValues } from "../../fields/run";
import { withKin } from "../../geometry/across";
import { makeColumn, withColumns } from "../../geometry/column";
import { pointLanes, withPoints } from "../../geometry/mesh";
import { topologyOf } from "../../geometry/topology";
import {
  type ErosionSettings,
  erodedOnce,
  type Ground,
  groundOf,
  layersOf,
  runsOf,
} from "../../growth/erosion";
import { tangent } from "../../maths/exact";
import type { Stepping } from "../../simulate/state";
import { defineNode, type Resolved } from "../define";
import { angle, field, integer, number, out, shape } from "../ports";
import { runUpInput } from "./step-inputs";

const INPUTS = {
  shape: shape({ about: "A mesh that lies, as a Plane moved up by a noise; its points go up and down." }),
  rain: field.number({
    default: 0.02,
    min: 0,
    soft: [0, 0.1],
    unit: "units",
    about: "Water that falls in a second, by place.",
  }),
  pour: field.number({
    default: 0,
    min: 0,
    soft: [0, 2],
    unit: "units",
    about: "Material that falls in a second: a falloff piles a cone.",
  }),
  carry: number({ default: 1.5, min: 0, soft: [0, 6], about: "How much running water can carry." }),
  take: number({ default: 0.3, min: 0, max: 1, soft: [0, 1], about: "How fast it digs." }),
  settle: number({
    default: 0.3,
    min: 0,
    max: 1,
    soft: [0, 1],
    about: "How fast it leaves what it cannot carry.",
  }),
  dry: number({
    default: 0.02,
    min: 0,
    max: 1,
    soft: [0, 0.2],
    label: "dries up",
    about: "Part of the water, in a round.",
  }),
  steepest: angle({ default: 42, min: 0, max: 89, soft: [10, 70], about: "Slopes that are steeper slump." }),
  slump: number({
    default: 0.5,
    min: 0,
    max: 1,
    soft: [0, 1],
    label: "slumping",
    about: "How much of that in a round.",
  }),
  rounds: integer({ default: 2, min: 0, max: 100, soft: [0, 10], about: "In each frame." }),
  runUp: runUpInput("Frames of weather before the first."),
};

type Inputs = Resolved<typeof INPUTS>;

const NOTHING = groundOf(new Float32Array(0), new Float32Array(0), new Float32Array(0));

function atFirst({ shape: { mesh } }: Inputs): Ground {
  if (!mesh) return NOTHING;
  const [, y] = pointLanes(mesh);
  return groundOf(Float32Array.from(y), new Float32Array(y.length), new Float32Array(y.length));
}

const stepping: Stepping<Inputs, Ground> = {
  runUp: "runUp",
  start: atFirst,
  step(before, inputs, { seconds, fps }) {
    const { shape, rain, pour, carry, take, settle, dry, steepest, slump, rounds } = inputs;
    const { mesh } = shape;
    if (!mesh) return NOTHING;
    let ground = before.domains.points.count === mesh.points.count ? before : atFirst(inputs);
    const more = Math.round(rounds * seconds * fps);
    if (more === 0) return ground;
    const beside = topologyOf(mesh).pointsOfPoints;
    const runs = runsOf(beside, pointLanes(mesh));
    const [wet, poured] = runValues([rain, pour], withKin({ mesh }, "points"), { onlyFinite: true }).lanes;
    const share = seconds / more;
    const settings: ErosionSettings = {
      rain: wet.map((v) => v * share),
      pour: poured.map((v) => v * share),
      carry,
      take,
      settle,
      dry,
      steepest: tangent(steepest),
      slump,
    };
    for (let round = 0; round < more; round++) ground = erodedOnce(ground, beside, runs, settings);
    return ground;
  },
};

export const erodeAndPile = defineNode({
  type: "erode-and-pile",
  family: "simulate",
  title: "Erode and pile",
  about:
    "Weather on a ground: rain digs valleys and fills hollows, steep slopes slump, poured material piles up.",
  synonyms: [
    "erosion",
    "hydraulic",
    "thermal",
    "terrain",
    "sand pile",
    "talus",
    "heightfield",
    "landscape",
    "sediment",
  ],
  inputs: INPUTS,
  outputs: {
    shape: out.shape(
      "The mesh; points have `water`, `sediment`, and `changed`, by how much they rose or sank.",
    ),
  },
  summary: ({ rounds, steepest }) => `${rounds} rounds a frame, up to ${steepest}°`,
  cost: ({ shape: { mesh }, rounds }) => ({ milliseconds: (mesh?.points.count ?? 0) * rounds * 0.0003 }),
  stepping,
  evaluate({ shape }, context) {
    const { mesh } = shape;
    const ground = context.carried<Ground>();
    if (!mesh || mesh.points.count === 0) {
      context.warn("No mesh arrives, so there is no ground.", { input: "shape" });
      return { shape };
    }
    if (ground.domains.points.count !== mesh.points.count) return { shape };
    const [height, water, sediment] = layersOf(ground);
    const [x, y, z] = pointLanes(mesh);
    const points = withColumns(mesh.points, {
      position: makeColumn("vector", [x, height, z]),
      water: makeColumn("number", [water]),
      sediment: makeColumn("number", [sediment]),
      changed: makeColumn("number", [height.map((h, p) => h - y[p])]),
    });
    return { shape: { ...shape, mesh: withPoints(mesh, points) } };
  },
});
