import { tick } from "../../cancelling";
import { makeSites } from "../../geometry/shape";
import { defineNode } from "../define";
import { choice, integer, out, vector } from "../ports";

export const gridSites = defineNode({
  type: "grid-sites",
  family: "layout",
  title: "Grid sites",
  about: "Sites in rows, columns and layers, centred on the origin.",
  synonyms: ["array", "lattice", "rows", "columns", "copies", "matrix", "copy"],
  inputs: {
    across: integer({ default: 10, min: 0, soft: [1, 100], about: "Along X." }),
    up: integer({ default: 1, min: 0, soft: [1, 100], about: "Along Y." }),
    deep: integer({ default: 10, min: 0, soft: [1, 100], about: "Along Z." }),
    counted: choice(["sites", "cells"], {
      about: "Count the sites themselves, or the cells between them (one more site than cells).",
    }),
    spacing: vector({ default: [1, 1, 1], soft: [0, 4], about: "Between neighbours." }),
  },
  outputs: { sites: out.shape("The sites, X fastest, then Y, then Z.") },
  summary: ({ across, up, deep, counted }) => `${across} × ${up} × ${deep} ${counted}`,
  cost: (inputs) => {
    const [x, y, z] = siteCounts(inputs);
    return { sites: x * y * z };
  },
  evaluate(inputs) {
    const [nx, ny, nz] = siteCounts(inputs);
    const [sx, sy, sz] = inputs.spacing;
    const sites = makeSites(nx * ny * nz, ({ position: [x, y, z] }) => {
      let at = 0;
      for (let k = 0; k < nz; k++) {
        for (let j = 0; j < ny; j++) {
          tick(nx);
          for (let i = 0; i < nx; i++) {
            x[at] = (i - (nx - 1) / 2) * sx;
            y[at] = (j - (ny - 1) / 2) * sy;
            z[at] = (k - (nz - 1) / 2) * sz;
            at++;
          }
        }
      }
    });
    return { sites: { sites } };
  },
});

/** Sites per axis; 0 cells along an axis still leave one layer of sites. */
function siteCounts(inputs: { across: number; up: number; deep: number; counted: string }): number[] {
  const counts = [inputs.across, inputs.up, inputs.deep];
  return inputs.counted === "cells" ? counts.map((cells) => cells + 1) : counts;
}
