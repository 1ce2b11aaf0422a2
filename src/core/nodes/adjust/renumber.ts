import { tick } from "../../cancelling";
import { countUp, gather, makeColumn, makeFloats, withColumns } from "../../geometry/column";
import { hash3 } from "../../maths/random";
import { defineNode } from "../define";
import { choice, field, integer, out, shape, toggle } from "../ports";

export const renumber = defineNode({
  type: "renumber",
  family: "adjust",
  title: "Renumber",
  about: "Puts clones in another order, so that everything that goes by index follows it.",
  synonyms: ["sort", "order", "shuffle", "reverse", "index", "id"],
  inputs: {
    shape: shape({ about: "Clones or sites." }),
    by: choice(["value", "chance", "reversed"], { about: "What decides the order." }),
    value: field.number({
      default: 0,
      soft: [-10, 10],
      shownWhen: { input: "by", is: ["value"] },
      about: "Least first; equal ones stay as they are.",
    }),
    seed: integer({
      default: 0,
      min: 0,
      soft: [0, 100],
      shownWhen: { input: "by", is: ["chance"] },
      about: "Another number, another order.",
    }),
    ids: toggle({
      default: false,
      about: "Give new ids in this order too; random values then move with the place.",
    }),
  },
  outputs: { shape: out.shape("The same clones in the new order.") },
  summary: ({ by }) => `by ${by}`,
  evaluate({ shape, by, value, seed, ids }, context) {
    const { sites } = shape;
    if (!sites || sites.count === 0) {
      context.warn("No sites arrive, so there is no order to change.", { input: "shape" });
      return { shape };
    }
    const order = countUp(sites.count);
    if (by === "reversed") order.reverse();
    else if (by === "chance") shuffle(order, hash3(context.seed, seed, 0));
    else {
      const [keys] = context.run([value], sites);
      order.sort((a, b) => {
        tick(1);
        return keys[a] - keys[b] || a - b;
      });
    }
    const last = Math.max(1, sites.count - 1);
    const sorted = gather(sites, order);
    const along = makeFloats(sites.count);
    for (let i = 0; i < sites.count; i++) along[i] = i / last;
    const columns = {
      along: makeColumn("number", [along]),
      ...(ids ? { id: makeColumn("integer", [countUp(sites.count)]) } : {}),
    };
    return { shape: { ...shape, sites: withColumns(sorted, columns) } };
  },
});

/** Fisher and Yates' shuffle in Durstenfeld's form (Knuth, vol. 2, 3.4.2, algorithm P). */
function shuffle(order: Int32Array, seed: number): void {
  for (let k = order.length - 1; k > 0; k--) {
    const j = Math.floor((hash3(seed, k, 0) / 2 ** 32) * (k + 1));
    const kept = order[k];
    order[k] = order[j];
    order[j] = kept;
  }
}
