import { apply, constant, elementIndex } from "../../fields/expression";
import { makeColumn, withColumns } from "../../geometry/column";
import { EMPTY_SHAPE, isFilled, type Shape } from "../../geometry/shape";
import { mix32 } from "../../maths/random";
import { defineNode } from "../define";
import { randomField } from "../drive/random";
import { choice, field, integer, out, shape, shapes } from "../ports";

export const cloneOntoSites = defineNode({
  type: "clone-onto-sites",
  family: "clone",
  title: "Clone onto sites",
  about: "Puts a shape on every site. With several shapes, each site picks one.",
  synonyms: ["copy", "instance", "scatter", "duplicate", "array", "place", "random pick", "stamp"],
  inputs: {
    sites: shape({ about: "Where the clones go." }),
    shapes: shapes({
      about: "What is cloned; link as many as you like, or a set of parts. Clones may be cloned again.",
    }),
    pick: choice(["in order", "at random", "by number"], {
      about: "Which shape a site gets when there are several.",
    }),
    seed: integer({
      default: 0,
      min: 0,
      soft: [0, 100],
      shownWhen: { input: "pick", is: ["at random"] },
      about: "Another number, another choice.",
    }),
    number: field.number({
      default: 0,
      soft: [0, 10],
      shownWhen: { input: "pick", is: ["by number"] },
      about: "Number of the shape, counted from 0 and repeating.",
    }),
  },
  outputs: { clones: out.shape("The sites with their shapes.") },
  summary: ({ pick }) => `picked ${pick}`,
  evaluate({ sites: from, shapes: sources, pick, seed, number }, context) {
    const { sites } = from;
    if (!sites || sites.count === 0) {
      context.warn("No sites arrive, so nothing is cloned.", { input: "sites" });
      return { clones: EMPTY_SHAPE };
    }
    const filled = sources.flatMap(partsOf).filter(isFilled);
    if (filled.length === 0) {
      context.warn("No shape arrives, so the sites stay bare.", { input: "shapes" });
      return { clones: from };
    }
    const count = constant(filled.length);
    const order = {
      "in order": elementIndex(),
      "at random": apply("multiply", [randomField(mix32(seed + context.seed), 0), count]),
      "by number": number,
    }[pick];
    const [picked] = context.run([apply("modulo", [apply("floor", [order]), count])], sites);
    const source = Int32Array.from(picked);
    return {
      clones: { sites: withColumns(sites, { source: makeColumn("integer", [source]) }), sources: filled },
    };
  },
});

/** The parts of a set, or the shape itself. */
const partsOf = (shape: Shape): readonly Shape[] =>
  isFilled(shape) || !shape.sources ? [shape] : shape.sources.flatMap(partsOf);
