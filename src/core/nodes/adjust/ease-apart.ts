import { tick } from "../../cancelling";
import { makeColumn, withColumns } from "../../geometry/column";
import { hash3, unit24 } from "../../maths/random";
import { HashGrid } from "../../spatial/hash-grid";
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
  const grid = new HashGrid(place, 2 * widest);
  let any = false;
  for (let i = 0; i < room.length; i++) {
    tick(16);
    grid.within(x[i], y[i], z[i], room[i] + widest, (j, squared) => {
      // Each pair once.
      if (j <= i) return undefined;
      const apart = room[i] + room[j];
      if (squared >= apart * apart) return undefined;
      const far = Math.sqrt(squared);
      const free = [1 - held[i], 1 - held[j]];
      const share = free[0] + free[1];
      if (share <= 0) return undefined;
      any = true;
      let off: readonly number[] = [x[i] - x[j], y[i] - y[j], z[i] - z[j]];
      // Those on one place go some way that is always the same.
      if (far < 1e-9) off = [0, 1, 2].map((a) => unit24(hash3(i, j, a)) - 0.5);
      const length = far < 1e-9 ? Math.sqrt(off[0] * off[0] + off[1] * off[1] + off[2] * off[2]) || 1 : far;
      const by = (apart - far) / length / share;
      for (let a = 0; a < 3; a++) {
        push[a][i] += off[a] * by * free[0];
        push[a][j] -= off[a] * by * free[1];
      }
      return undefined;
    });
  }
  return any;
}
