import type { Value } from "../../fields/expression";
import { runValues } from "../../fields/run";
import { withKin } from "../../geometry/across";
import { type Domain, makeColumn, makeFloats, withColumns } from "../../geometry/column";
import { placedName } from "../../geometry/domains";
import { type Mesh, withPoints } from "../../geometry/mesh";
import { planeMesh } from "../../geometry/primitives";
import type { Shape } from "../../geometry/shape";
import type { Stepping } from "../../simulate/state";
import {
  heightsOf,
  MOST_SUBSTEPS,
  steppedWater,
  stillWater,
  substepsFor,
  type Water,
  type WaterGrid,
} from "../../simulate/water";
import { defineNode, type Resolved } from "../define";
import { field, integer, length, number, out, shape, vector } from "../ports";
import { runUpInput } from "./step-inputs";

const INPUTS = {
  width: length({ default: 6, min: 0.01, soft: [1, 20], about: "Along X." }),
  depth: length({ default: 6, min: 0.01, soft: [1, 20], about: "Along Z." }),
  cells: integer({
    default: 96,
    min: 2,
    max: 1024,
    soft: [32, 256],
    about: "Faces along X; those along Z follow, so that they are about square.",
  }),
  middle: vector({ default: [0, 0, 0], soft: [-5, 5], about: "Where its middle is when it is still." }),
  speed: number({ default: 1.5, min: 0, soft: [0.2, 6], about: "How fast waves go, units a second." }),
  damping: number({
    default: 0.4,
    min: 0,
    soft: [0, 3],
    about: "How much of their movement is lost in a second.",
  }),
  by: shape({ about: "What touches the water: sites, clones or points. They press it down around them." }),
  radius: field.number({
    default: 0.25,
    min: 0.0001,
    soft: [0.05, 1],
    unit: "units",
    about: "How wide each presses, and how near to the water it must be.",
  }),
  strength: field.number({ default: 6, soft: [-20, 20], about: "How hard each presses, units a second²." }),
  push: field.number({
    default: 0,
    soft: [-5, 5],
    about: "At each point of the water, upwards, units a second²; a wind.",
  }),
  wet: field.number({
    default: 1,
    soft: [0, 1],
    about: "Where there is water: above 0.5. Elsewhere it is still, and throws waves back, as a shore does.",
  }),
  runUp: runUpInput("Frames worked out before the first, so that it moves already."),
};

type Inputs = Resolved<typeof INPUTS>;

function gridOf({ width, depth, cells }: Pick<Inputs, "width" | "depth" | "cells">): WaterGrid {
  const deep = Math.max(2, Math.min(1024, Math.round((cells * depth) / width)));
  return { across: cells + 1, deep: deep + 1, step: [width / cells, depth / deep] };
}

/** Points of the water where it is still, with how high it is. */
function pointsOf(
  { across, deep, step }: WaterGrid,
  middle: readonly number[],
  height: Float32Array | null,
): Domain {
  const count = across * deep;
  const lanes = [0, 1, 2].map(() => makeFloats(count));
  for (let at = 0; at < count; at++) {
    lanes[0][at] = middle[0] + ((at % across) - (across - 1) / 2) * step[0];
    lanes[1][at] = middle[1] + (height?.[at] ?? 0);
    lanes[2][at] = middle[2] + (Math.floor(at / across) - (deep - 1) / 2) * step[1];
  }
  return { count, columns: { position: makeColumn("vector", lanes) } };
}

const stepping: Stepping<Inputs, Water> = {
  runUp: "runUp",
  start: (inputs) => stillWater(gridOf(inputs)),
  step(before, inputs, { seconds }) {
    const grid = gridOf(inputs);
    const { middle, speed, damping, push, wet } = inputs;
    const count = grid.across * grid.deep;
    const water = before.domains.points.count === count ? before : stillWater(grid);
    const points = pointsOf(grid, middle, heightsOf(water));
    const [pushed, wetness] = runValues([push, wet], points, { onlyFinite: true }).lanes;
    const all = makeFloats(count);
    all.set(pushed);
    press(all, grid, middle, heightsOf(water), inputs);
    return steppedWater(water, grid, { speed, damping, push: all, wet: wetness }, seconds);
  },
};

/** Adds what presses the water down: most in the middle of each, nothing at its radius. */
function press(
  push: Float32Array,
  { across, deep, step }: WaterGrid,
  middle: readonly number[],
  height: Float32Array,
  { by, radius, strength }: { by: Shape; radius: Value; strength: Value },
): void {
  const on = placedName(by);
  if (!on) return;
  const elements = withKin(by, on);
  const [radii, strengths] = runValues([radius, strength], elements, { onlyFinite: true }).lanes;
  const [x, y, z] = elements.columns.position.lanes;
  const left = middle[0] - ((across - 1) / 2) * step[0];
  const back = middle[2] - ((deep - 1) / 2) * step[1];
  for (let e = 0; e < elements.count; e++) {
    const r = radii[e];
    const [i0, i1] = [Math.ceil((x[e] - r - left) / step[0]), Math.floor((x[e] + r - left) / step[0])];
    const [j0, j1] = [Math.ceil((z[e] - r - back) / step[1]), Math.floor((z[e] + r - back) / step[1])];
    for (let j = Math.max(0, j0); j <= Math.min(deep - 1, j1); j++)
      for (let i = Math.max(0, i0); i <= Math.min(across - 1, i1); i++) {
        const at = j * across + i;
        const [dx, dy, dz] = [
          left + i * step[0] - x[e],
          middle[1] + height[at] - y[e],
          back + j * step[1] - z[e],
        ];
        const near = 1 - (dx * dx + dy * dy + dz * dz) / (r * r);
        if (near > 0) push[at] -= strengths[e] * near * near;
      }
  }
}

export const water = defineNode({
  type: "water",
  family: "simulate",
  title: "Water",
  about: "A sheet of water whose waves go out from what touches it, cross, and come back from its shores.",
  synonyms: ["ripples", "waves", "pond", "height field", "pool", "rain on water", "wave equation", "lake"],
  inputs: INPUTS,
  outputs: {
    shape: out.shape("The surface; points have `height`, and `rising`, how fast they rise."),
  },
  summary: ({ width, depth, cells }) => `${width} × ${depth}, ${cells} cells`,
  cost(inputs) {
    const grid = gridOf(inputs);
    const { across, deep } = grid;
    const substeps = substepsFor(grid, inputs.speed, 0.04);
    return { points: across * deep, faces: across * deep, milliseconds: across * deep * 0.00004 * substeps };
  },
  stepping,
  evaluate(inputs, context) {
    const state = context.carried<Water>();
    const grid = gridOf(inputs);
    const { width, depth, middle } = inputs;
    // The very same faces from frame to frame, so that only places are sent.
    const sheet = context.reuse<Mesh>((before) =>
      before?.points.count === grid.across * grid.deep
        ? before
        : planeMesh(width, depth, grid.across - 1, grid.deep - 1),
    );
    const { points } = state.domains;
    const placed = pointsOf(grid, middle, heightsOf(state));
    const { position } = placed.columns;
    if (substepsFor(grid, inputs.speed, 1 / context.time.framesPerSecond) >= MOST_SUBSTEPS)
      context.note("Waves are slower than asked for: cells are too small for such a speed.");
    return {
      shape: {
        mesh: withPoints(sheet, withColumns(sheet.points, { position, ...points.columns })),
      },
    };
  },
});
