import { tick } from "../../cancelling";
import { domainBounds } from "../../geometry/bounds";
import { makeSites } from "../../geometry/shape";
import { hash3, unit24 } from "../../maths/random";
import { defineNode } from "../define";
import { choice, integer, number, out, shape, vector } from "../ports";
import { GRIDS, LATTICES } from "./lattice";

export const gridSites = defineNode({
  type: "grid-sites",
  family: "layout",
  title: "Grid sites",
  about: "Sites in rows, columns and layers, centred on the origin or over a shape.",
  synonyms: ["array", "lattice", "rows", "columns", "copies", "matrix", "copy", "honeycomb", "bricks"],
  inputs: {
    across: integer({ default: 10, min: 0, soft: [1, 100], about: "Along X." }),
    up: integer({ default: 1, min: 0, soft: [1, 100], about: "Along Y." }),
    deep: integer({ default: 10, min: 0, soft: [1, 100], about: "Along Z." }),
    counted: choice(["sites", "cells"], {
      label: "count by",
      about: "Count the sites themselves, or the cells between them (one more site than cells).",
    }),
    spacing: vector({
      default: [1, 1, 1],
      soft: [0, 4],
      about: "Between neighbours; a shape that is linked sets it.",
    }),
    lies: choice(GRIDS, {
      label: "pattern",
      about:
        "Straight, every other row half a step on, as close as balls lie, or with one in the middle of each box.",
    }),
    jitter: number({
      default: 0,
      min: 0,
      soft: [0, 1],
      unit: "×",
      about: "How far each strays by chance, as a part of the spacing.",
    }),
    seed: integer({ default: 0, min: 0, soft: [0, 100], about: "Another number, other chances." }),
    over: shape({ about: "A shape whose bounds the grid covers, a cell for each site." }),
  },
  outputs: { sites: out.shape("The sites, X fastest, then Y, then Z.") },
  summary: ({ across, up, deep, counted }) => `${across} × ${up} × ${deep} ${counted}`,
  cost: (inputs) => {
    const [x, y, z] = siteCounts(inputs);
    return { sites: x * y * z };
  },
  evaluate(inputs, context) {
    const counts = siteCounts(inputs);
    const [nx, ny, nz] = counts;
    const { lies, jitter, over } = inputs;
    const { layer, row, shift } = LATTICES[lies];
    const bounds = domainBounds(over.mesh?.points ?? over.curves?.points ?? over.sites);
    const middle = [0, 1, 2].map((a) => (bounds ? (bounds.min[a] + bounds.max[a]) / 2 : 0));
    const step = inputs.spacing.map((s, a) =>
      bounds ? (bounds.max[a] - bounds.min[a]) / Math.max(1, counts[a]) : s,
    );
    // Layers and rows of a close grid are nearer to each other than its spacing.
    const [sx, sy, sz] = bounds ? step : [step[0], step[1] * layer, step[2] * row];
    const own = hash3(context.seed, inputs.seed, 0x6a17);
    const sites = makeSites(nx * ny * nz, ({ position: [x, y, z] }) => {
      const [cx, cz] = middleShift(shift, nz, ny);
      let at = 0;
      for (let k = 0; k < nz; k++) {
        for (let j = 0; j < ny; j++) {
          tick(nx);
          const [dz, dx] = shift(k, j);
          for (let i = 0; i < nx; i++) {
            x[at] = middle[0] + (i - (nx - 1) / 2 + dx - cx) * sx;
            y[at] = middle[1] + (j - (ny - 1) / 2) * sy;
            z[at] = middle[2] + (k - (nz - 1) / 2 + (dz - cz) / row) * sz;
            at++;
          }
        }
      }
      if (jitter > 0)
        [x, y, z].forEach((lane, a) => {
          for (let i = 0; i < at; i++) lane[i] += (unit24(hash3(own, i, a)) - 0.5) * jitter * step[a];
        });
    });
    return { sites: { sites } };
  },
});

/** What rows are shifted by on the whole, so that the grid stays in its middle. */
function middleShift(
  shift: (j: number, k: number) => readonly [number, number],
  rows: number,
  layers: number,
): readonly [x: number, z: number] {
  const all = [
    [0, 0],
    [1, 0],
    [0, 1],
    [1, 1],
  ].filter(([j, k]) => j < rows && k < layers);
  const spread = (part: 0 | 1) => {
    const values = all.map(([j, k]) => shift(j, k)[part]);
    return values.length > 0 ? (Math.min(...values) + Math.max(...values)) / 2 : 0;
  };
  return [spread(1), spread(0)];
}

/** Sites per axis; 0 cells along an axis still leave one layer of sites. */
function siteCounts(inputs: { across: number; up: number; deep: number; counted: string }): number[] {
  const counts = [inputs.across, inputs.up, inputs.deep];
  return inputs.counted === "cells" ? counts.map((cells) => cells + 1) : counts;
}
