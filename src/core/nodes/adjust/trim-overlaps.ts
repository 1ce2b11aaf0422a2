import { tick } from "../../cancelling";
import { shapeBounds } from "../../geometry/bounds";
import { countUp, type Domain, gather } from "../../geometry/column";
import { lanesOf, rotationsOf, type Shape } from "../../geometry/shape";
import { lengthOf } from "../../maths/exact";
import { rotate } from "../../maths/quaternion";
import type { Vec3 } from "../../maths/vector";
import { HashGrid } from "../../spatial/hash-grid";
import { slackOf } from "../../spatial/reach";
import { defineNode } from "../define";
import { choice, field, out, shape } from "../ports";

export const trimOverlaps = defineNode({
  type: "trim-overlaps",
  family: "adjust",
  title: "Trim overlaps",
  about: "Leaves out clones that stand too close to an earlier one that stays.",
  synonyms: ["collision", "spacing", "minimum distance", "thin out", "separate", "too close", "poisson"],
  inputs: {
    shape: shape({ about: "Clones or sites." }),
    room: choice(["a radius", "its own bounds"], {
      about: "What each takes up: a ball, or the box around its clone as it stands.",
    }),
    radius: field.number({
      default: 0.2,
      min: 0,
      soft: [0, 2],
      unit: "units",
      shownWhen: { input: "room", is: ["a radius"] },
      about: "The room each takes; two keep at least the sum of theirs apart.",
    }),
    priority: field.number({
      default: 0,
      soft: [0, 1],
      about: "Of two that overlap the one with more stays, else the earlier one.",
    }),
  },
  outputs: { shape: out.shape("Those that stay, with their ids.") },
  summary: ({ room, radius }) => (room === "a radius" ? `${radius} units around each` : "by their boxes"),
  evaluate({ shape, room: by, radius, priority }, context) {
    const { sites } = shape;
    if (!sites || sites.count === 0) {
      context.warn("No sites arrive, so there is nothing to trim.", { input: "shape" });
      return { shape };
    }
    const [radii, first] = context.run([radius, priority], sites);
    const boxes = by === "its own bounds" ? boxesOf(shape, sites) : null;
    if (boxes?.[3].every((diagonal) => diagonal === 0))
      context.warn("Only bare sites arrive, without clones, so none takes up room.", { input: "room" });
    const room = boxes ? boxes[3] : radii;
    let widest = 0;
    for (const r of room) if (r > widest) widest = r;
    if (widest <= 0) return { shape };
    const { lanes } = sites.columns.position;
    const middles = boxes ? boxes.slice(4) : lanes;
    const grid = new HashGrid(middles, 2 * widest);
    const stays = new Uint8Array(sites.count);
    const kept: number[] = [];
    // Those that just touch stay, however their places were rounded.
    const slack = slackOf(2 * widest, middles);
    const overlap = (i: number, j: number, squared: number): boolean => {
      if (boxes)
        return [0, 1, 2].every(
          (a) => Math.abs(middles[a][i] - middles[a][j]) < boxes[a][i] + boxes[a][j] - slack,
        );
      const apart = room[i] + room[j] - slack;
      return apart > 0 && squared < apart * apart;
    };
    for (const i of byPriority(first)) {
      tick(16);
      let free = true;
      grid.within(middles[0][i], middles[1][i], middles[2][i], room[i] + widest, (j, squared) => {
        if (stays[j] === 1 && overlap(i, j, squared)) free = false;
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

/**
 * The boxes around clones along X, Y and Z as they stand: half their sides, half their diagonals, their middles. Seven lanes; 0
 * for a bare site.
 */
function boxesOf(shape: Shape, sites: Domain): readonly Float32Array[] {
  const own = (shape.sources ?? []).map(shapeBounds);
  const lanes = Array.from({ length: 7 }, () => new Float32Array(sites.count));
  const source = sites.columns.source?.lanes[0];
  const place = sites.columns.position.lanes;
  const turnOf = rotationsOf(sites);
  const { lanes: scale, fallback } = lanesOf(sites, "scale", "vector");
  for (let i = 0; i < sites.count; i++) {
    tick(8);
    const bounds = own[source?.[i] ?? -1];
    const times = [0, 1, 2].map((a) => scale?.[a][i] ?? fallback[a]);
    const min = bounds?.min.map((m, a) => m * times[a]) ?? [0, 0, 0];
    const max = bounds?.max.map((m, a) => m * times[a]) ?? [0, 0, 0];
    const q = turnOf(i);
    const middle = rotate(q, min.map((m, a) => (m + max[a]) / 2) as unknown as Vec3);
    const sides = [0, 1, 2].map((a) =>
      rotate(q, [0, 1, 2].map((b) => (a === b ? (max[a] - min[a]) / 2 : 0)) as unknown as Vec3),
    );
    for (let a = 0; a < 3; a++) {
      lanes[a][i] = Math.abs(sides[0][a]) + Math.abs(sides[1][a]) + Math.abs(sides[2][a]);
      lanes[4 + a][i] = place[a][i] + middle[a];
    }
    lanes[3][i] = lengthOf(lanes[0][i], lanes[1][i], lanes[2][i]);
  }
  return lanes;
}
