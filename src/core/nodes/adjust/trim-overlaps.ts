import { tick } from "../../cancelling";
import { countUp, gather } from "../../geometry/column";
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
    priority: field.number({
      default: 0,
      soft: [0, 1],
      about: "Of two that overlap the one with more stays, else the earlier one.",
    }),
  },
  outputs: { shape: out.shape("Those that stay, with their ids.") },
  summary: ({ radius }) => `${radius} units around each`,
  evaluate({ shape, radius, priority }, context) {
    const { sites } = shape;
    if (!sites || sites.count === 0) {
      context.warn("No sites arrive, so there is nothing to trim.", { input: "shape" });
      return { shape };
    }
    const [room, first] = context.run([radius, priority], sites);
    let widest = 0;
    for (const r of room) if (r > widest) widest = r;
    if (widest <= 0) return { shape };
    const { lanes } = sites.columns.position;
    const grid = new HashGrid(lanes, 2 * widest);
    const stays = new Uint8Array(sites.count);
    const kept: number[] = [];
    for (const i of byPriority(first)) {
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
    return { shape: { ...shape, sites: gather(sites, Int32Array.from(kept).sort()) } };
  },
});

/** Numbers of the elements, those with more first; equal ones stay in their order. */
function byPriority(priority: Float32Array): Int32Array {
  const order = countUp(priority.length);
  return priority.every((p) => p === priority[0])
    ? order
    : order.sort((a, b) => priority[b] - priority[a] || a - b);
}
