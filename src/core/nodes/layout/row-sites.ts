import { tick } from "../../cancelling";
import { makeSites } from "../../geometry/shape";
import { lengthOf } from "../../maths/exact";
import { IDENTITY, pointing } from "../../maths/quaternion";
import type { Vec3 } from "../../maths/vector";
import { defineNode, NodeError } from "../define";
import { choice, integer, length, out, vector } from "../ports";
import { OUTWARD } from "./outward";

export const rowSites = defineNode({
  type: "row-sites",
  family: "layout",
  title: "Row sites",
  about: "Sites along a straight line: so many, or one every so far, between two places.",
  synonyms: ["line", "linear", "fence", "array", "copies", "copy", "step"],
  inputs: {
    by: choice(["count", "step"], { about: "Given their number, or the distance between them." }),
    count: integer({
      default: 8,
      min: 0,
      soft: [1, 64],
      shownWhen: { input: "by", is: ["count"] },
      about: "How many, both ends included.",
    }),
    step: length({
      default: 0.5,
      min: 0,
      soft: [0.05, 4],
      shownWhen: { input: "by", is: ["step"] },
      about: "From one to the next, beginning at the first place.",
    }),
    from: vector({ default: [-3, 0, 0], soft: [-10, 10], about: "The first place." }),
    to: vector({ default: [3, 0, 0], soft: [-10, 10], about: "The last place." }),
    along: choice(OUTWARD, { default: "none", about: "The own axis that points along the line." }),
  },
  outputs: { sites: out.shape("The sites, in order.") },
  summary: ({ by, count, step }) => (by === "count" ? `${count} in a row` : `one every ${step} units`),
  cost: (inputs) => ({ sites: countOf(inputs) }),
  evaluate(inputs) {
    const { by, from, to, step, along: axis } = inputs;
    if (by === "step" && step === 0) {
      throw new NodeError('"step" is 0, so the row would never end.', "step", {
        label: 'Set "step" to 0.5',
        input: "step",
        value: 0.5,
      });
    }
    const count = countOf(inputs);
    const line = [0, 1, 2].map((a) => to[a] - from[a]) as unknown as Vec3;
    const total = lengthOf(...line);
    const part = by === "step" ? step / Math.max(total, 1e-12) : 1 / Math.max(1, count - 1);
    const q = axis === "none" ? IDENTITY : pointing(axis, line, [0, 1, 0]);
    const sites = makeSites(count, ({ position, rotation }) => {
      for (let i = 0; i < count; i++) {
        tick();
        for (let a = 0; a < 3; a++) position[a][i] = from[a] + line[a] * part * i;
        for (let l = 0; l < 4; l++) rotation[l][i] = q[l];
      }
    });
    return { sites: { sites } };
  },
});

type RowInputs = { by: string; count: number; step: number; from: Vec3; to: Vec3 };

/** A step that fits the line a whole number of times has a site at the end too; rounding may not lose it. */
function countOf({ by, count, step, from, to }: RowInputs): number {
  if (by === "count" || step === 0) return count;
  return Math.floor(lengthOf(to[0] - from[0], to[1] - from[1], to[2] - from[2]) / step + 1e-6) + 1;
}
