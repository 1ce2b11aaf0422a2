import { gather } from "../../geometry/column";
import { defineNode } from "../define";
import { field, out, shape, toggle } from "../ports";

export const keep = defineNode({
  type: "keep",
  family: "adjust",
  title: "Keep",
  about: "Keeps the clones for which a condition holds and leaves the others out.",
  synonyms: ["filter", "remove", "delete", "cull", "hide", "every nth", "leave out"],
  inputs: {
    shape: shape({ about: "Clones or sites." }),
    when: field.number({ default: 1, soft: [0, 1], about: "Kept above 0.5; link a comparison here." }),
    invert: toggle({ default: false, about: "Keep the others instead." }),
  },
  outputs: { shape: out.shape("Those that are kept, with their ids.") },
  evaluate({ shape, when, invert }, context) {
    const { sites } = shape;
    if (!sites || sites.count === 0) {
      context.warn("No sites arrive, so there is nothing to keep.", { input: "shape" });
      return { shape };
    }
    const [condition] = context.run([when], sites);
    const kept: number[] = [];
    for (let i = 0; i < sites.count; i++) if (condition[i] > 0.5 !== invert) kept.push(i);
    if (kept.length === sites.count) return { shape };
    if (kept.length === 0) {
      context.warn("The condition holds for none, so nothing is kept.", { input: "when" });
      const { sites: _all, sources: _unused, ...rest } = shape;
      return { shape: rest };
    }
    return { shape: { ...shape, sites: gather(sites, Int32Array.from(kept)) } };
  },
});
