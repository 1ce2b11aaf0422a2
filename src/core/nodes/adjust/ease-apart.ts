import { makeColumn, withColumns } from "../../geometry/column";
import { copyInMemory, passing } from "../../kernels/arena";
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
  cost: ({ shape, rounds }) => ({ milliseconds: (shape.sites?.count ?? 0) * rounds * 0.0006 }),
  evaluate({ shape, radius, rounds, strength, hold }, context) {
    const { sites } = shape;
    if (!sites || sites.count === 0) {
      context.warn("No sites arrive, so there is nothing to move.", { input: "shape" });
      return { shape };
    }
    const [room, held] = context.run([radius, hold], sites);
    let widest = 0;
    for (const r of room) if (r > widest) widest = r;
    const place = sites.columns.position.lanes.map(copyInMemory);
    for (let round = 0; round < rounds && widest > 0; round++) {
      const overlapping = passing(() => new PointGrid(place).push(place, room, held, widest, strength));
      if (overlapping === 0) break;
    }
    return { shape: { ...shape, sites: withColumns(sites, { position: makeColumn("vector", place) }) } };
  },
});
