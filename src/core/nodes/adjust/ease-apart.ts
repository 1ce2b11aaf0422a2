import { tick } from "../../cancelling";
import { makeColumn, withColumns } from "../../geometry/column";
import { lengthOf } from "../../maths/exact";
import { hash3, unit24 } from "../../maths/random";
import { PointGrid } from "../../spatial/point-grid";
import { defineNode } from "../define";
import { field, integer, number, out, shape } from "../ports";

export const easeApart = defineNode({
  type: "ease-apart",
  family: "adjust",
  title: "Ease apart",
  about: "Pushes clones that overlap away from each other, round after round.",
  synonyms: ["relax", "make room", "separate", "spread", "overlap", "collision", "spacing"],
  inputs: {
    shape: shape({ about: "Clones or sites." }),
    radius: field.number({
      default: 0.25,
      min: 0,
      soft: [0, 2],
      unit: "units",
      about: "The room each takes; two want the sum of theirs between their middles.",
    }),
    rounds: integer({ default: 10, min: 0, max: 1000, soft: [0, 50], about: "How often all are pushed." }),
    strength: number({
      default: 0.5,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "How much of an overlap one round takes away; all of it may swing.",
    }),
    hold: field.number({
      default: 0,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "1 keeps a clone where it is and lets the others give way.",
    }),
  },
  outputs: { shape: out.shape("The same, moved.") },
  summary: ({ rounds, radius }) => `${rounds} rounds, ${radius} units around each`,
  cost: ({ shape, rounds }) => ({ milliseconds: (shape.sites?.count ?? 0) * rounds * 0.002 }),
  evaluate({ shape, radius, rounds, strength, hold }, context) {
    const { sites } = shape;
    if (!sites || sites.count === 0) {
      context.warn("No sites arrive, so there is nothing to move.", { input: "shape" });
      return { shape };
    }
    const { count } = sites;
    const [room, held] = context.run([radius, hold], sites);
    let widest = 0;
    for (const r of room) if (r > widest) widest = r;
    const place = sites.columns.position.lanes.map((lane) => Float32Array.from(lane));
    const push = place.map(() => new Float32Array(count));
    for (let round = 0; round < rounds && widest > 0; round++) {
      for (const lane of push) lane.fill(0);
      if (!pushAll(place, room, held, widest, push)) break;
      for (let a = 0; a < 3; a++) for (let i = 0; i < count; i++) place[a][i] += push[a][i] * strength;
    }
    return { shape: { ...shape, sites: withColumns(sites, { position: makeColumn("vector", place) }) } };
  },
});

/** Adds up how far each is pushed by those it overlaps; false when none do. */
function pushAll(
  place: readonly Float32Array[],
  room: Float32Array,
  held: Float32Array,
  widest: number,
  push: readonly Float32Array[],
): boolean {
  const [x, y, z] = place;
  const { starts, numbers } = new PointGrid(place).within(place, 2 * widest, true);
  let any = false;
  for (let i = 0; i < room.length; i++) {
    tick(starts[i + 1] - starts[i]);
    for (let e = starts[i]; e < starts[i + 1]; e++) {
      const j = numbers[e];
      // Each pair once.
      if (j <= i) continue;
      const apart = room[i] + room[j];
      let dx = x[i] - x[j];
      let dy = y[i] - y[j];
      let dz = z[i] - z[j];
      const far = Math.sqrt(dx * dx + dy * dy + dz * dz);
      const share = 2 - held[i] - held[j];
      if (far >= apart || share <= 0) continue;
      any = true;
      // Those on one place go some way that is always the same.
      if (far < 1e-9) {
        dx = unit24(hash3(i, j, 0)) - 0.5;
        dy = unit24(hash3(i, j, 1)) - 0.5;
        dz = unit24(hash3(i, j, 2)) - 0.5;
      }
      const length = far < 1e-9 ? lengthOf(dx, dy, dz) || 1 : far;
      const by = (apart - far) / length / share;
      const mine = by * (1 - held[i]);
      const theirs = by * (1 - held[j]);
      push[0][i] += dx * mine;
      push[1][i] += dy * mine;
      push[2][i] += dz * mine;
      push[0][j] -= dx * theirs;
      push[1][j] -= dy * theirs;
      push[2][j] -= dz * theirs;
    }
  }
  return any;
}
