import { applyAll, subtract } from "../../fields/expression";
import { hash3 } from "../../maths/random";
import { defineNode } from "../define";
import { number, out } from "../ports";
import { latticeTime, placeInputs, sizedPlace, timeInputs } from "./lattice-inputs";

export const cells = defineNode({
  type: "cells",
  family: "drive",
  title: "Cells",
  about: "Space parted into irregular cells around scattered points, as in skin, cracked mud or foam.",
  synonyms: ["worley", "voronoi", "cellular noise", "cracks", "stones", "foam", "patches", "groups by place"],
  inputs: {
    ...placeInputs("How far the points are apart."),
    jitter: number({
      default: 1,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "0 for even cells, 1 for irregular ones.",
    }),
    ...timeInputs("cells"),
  },
  outputs: {
    nearest: out.number("Distance to the nearest point, in sizes: 0 in the middle of a cell."),
    edge: out.number("How much further the second nearest is: 0 on the border between two cells."),
    cell: out.number("A number of the cell's own, 0 to 1: the same everywhere in it."),
  },
  summary: ({ size }) => `${size} units apart`,
  evaluate({ place, size, jitter, speed, loop, seed }, context) {
    const own = hash3(context.seed, seed, 0);
    const data = { seed: own, jitter, ...latticeTime(context, speed, loop) };
    const at = sizedPlace(place, size, "cells");
    const [nearest, second, cell] = applyAll("cells", at, { key: JSON.stringify(data), ...data });
    return { nearest, edge: subtract(second, nearest), cell };
  },
});
