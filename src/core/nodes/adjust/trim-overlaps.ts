import { tick } from "../../cancelling";
import { gather } from "../../geometry/column";
import { HashGrid } from "../../spatial/hash-grid";
import { defineNode } from "../define";
import { field, out, shape } from "../ports";

export const trimOverlaps = defineNode({
  type: "trim-overlaps",
  family: "adjust",
  title: "Trim overlaps",
  about: "Leaves out clones that stand too close to an earlier one that stays.",
  synonyms: ["collision", "spacing", "minimum distance", "thin out", "separate", "too close", "poisson"],
  inputs: {
    shape: shape({ about: "Clones or sites." }),
    radius: field.number({
      default: 0.2,
      min: 0,
      soft: [0, 2],
      unit: "units",
      about: "The room each takes; two keep at least the sum of theirs apart.",
    }),
  },
  outputs: { shape: out.shape("Those that stay, with their ids.") },
  summary: ({ radius }) => `${radius} units around each`,
  evaluate({ shape, radius }, context) {
    const { sites } = shape;
    if (!sites || sites.count === 0) {
      context.warn("No sites arrive, so there is nothing to trim.", { input: "shape" });
      return { shape };
    }
    const [room] = context.run([radius], sites);
    let widest = 0;
    for (const r of room) if (r > widest) widest = r;
    if (widest <= 0) return { shape };
    const { lanes } = sites.columns.position;
    const grid = new HashGrid(lanes, 2 * widest);
    const stays = new Uint8Array(sites.count);
    const kept: number[] = [];
    for (let i = 0; i < sites.count; i++) {
      tick(16);
      let free = true;
      grid.within(lanes[0][i], lanes[1][i], lanes[2][i], room[i] + widest, (j, squared) => {
        const apart = room[i] + room[j];
        if (stays[j] === 1 && squared < apart * apart) free = false;
        return !free;
      });
      if (!free) continue;
      stays[i] = 1;
      kept.push(i);
    }
    if (kept.length === sites.count) return { shape };
    return { shape: { ...shape, sites: gather(sites, Int32Array.from(kept)) } };
  },
});
