import { apply, column, constant, elementIndex } from "../../fields/expression";
import { shapeBounds } from "../../geometry/bounds";
import { type Domain, makeColumn, makeLanes, withColumns } from "../../geometry/column";
import { EMPTY_SHAPE, isFilled, lanesOf, type Shape } from "../../geometry/shape";
import { transformShape } from "../../geometry/transform";
import { hash3 } from "../../maths/random";
import type { Vec3 } from "../../maths/vector";
import { defineNode, NodeError } from "../define";
import { PICK_CHANNEL, randomField } from "../drive/random";
import { choice, field, integer, out, shape, shapes, text } from "../ports";

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
    pick: choice(["in order", "at random", "by number", "by nearest size"], {
      about: "Which shape a site gets when there are several.",
    }),
    weights: text({
      default: "",
      shownWhen: { input: "pick", is: ["at random"] },
      about: "How often each shape is picked, as numbers in their order: 3 1 1. Missing ones are 1.",
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
    pivot: choice(["own", "middle", "base"], {
      about:
        "What of a shape comes to stand on the site: its origin, the middle of its bounds, or of their foot.",
    }),
    fit: choice(["as it is", "into the cell"], {
      about:
        "Into the cell: however large a shape is, its longest side becomes the site's `size`, or 1 where there is none.",
    }),
  },
  outputs: { clones: out.shape("The sites with their shapes.") },
  summary: ({ pick }) => `picked ${pick}`,
  evaluate({ sites: from, shapes: sources, pick, weights, seed, number, pivot, fit }, context) {
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
    const chance = randomField(hash3(context.seed, seed, 0), PICK_CHANNEL);
    const order = {
      "in order": elementIndex(),
      "at random": weights.trim() === "" ? apply("multiply", [chance, count]) : chance,
      "by number": number,
      "by nearest size": column("size", 0, 1),
    }[pick];
    let source: Int32Array;
    if (pick === "by nearest size") source = nearestSizes(context.run([order], sites)[0], filled);
    else if (pick === "at random" && weights.trim() !== "")
      source = weighted(context.run([order], sites)[0], weightsOf(weights, filled.length));
    else source = Int32Array.from(context.run([apply("modulo", [apply("floor", [order]), count])], sites)[0]);
    const columns = {
      source: makeColumn("integer", [source]),
      ...(fit === "into the cell" ? { scale: cellScale(sites) } : {}),
    };
    return {
      clones: {
        sites: withColumns(sites, columns),
        sources: filled.map((shape) => settled(shape, pivot, fit === "into the cell")),
      },
    };
  },
});

/** @throws NodeError for what is no number, or when nothing would be picked */
function weightsOf(words: string, count: number): number[] {
  const given = words
    .trim()
    .split(/[\s,;]+/)
    .map(Number);
  const weights = Array.from({ length: count }, (_, i) => given[i] ?? 1);
  const fault = given.some((w) => !(w >= 0 && w < 1e9)) || weights.every((w) => w === 0);
  if (fault)
    throw new NodeError(`"weights" must be numbers of 0 and more, not all 0; it is "${words}".`, "weights", {
      label: "Pick all alike",
      input: "weights",
      value: "",
    });
  return weights;
}

/** The shape into whose share of the whole a number from 0 to 1 falls. */
function weighted(chance: Float32Array, weights: readonly number[]): Int32Array {
  const whole = weights.reduce((a, b) => a + b, 0);
  return Int32Array.from(chance, (c) => {
    let left = c * whole;
    const at = weights.findIndex((w) => (left -= w) < 0);
    return at < 0 ? weights.length - 1 : at;
  });
}

/** The shape whose longest side is nearest to each size. */
function nearestSizes(sizes: Float32Array, shapes: readonly Shape[]): Int32Array {
  const sides = shapes.map((shape) => {
    const bounds = shapeBounds(shape);
    return bounds ? Math.max(...bounds.max.map((m, a) => m - bounds.min[a])) : 0;
  });
  return Int32Array.from(sizes, (size) =>
    sides.reduce((best, side, i) => (Math.abs(side - size) < Math.abs(sides[best] - size) ? i : best), 0),
  );
}

/** The shape with its pivot at the origin and, when it is to fit, its longest side 1. */
function settled(shape: Shape, pivot: "own" | "middle" | "base", fits: boolean): Shape {
  const bounds = shapeBounds(shape);
  if (!bounds || (pivot === "own" && !fits)) return shape;
  const { min, max } = bounds;
  const longest = Math.max(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
  const times = fits && longest > 0 ? 1 / longest : 1;
  const at: Vec3 =
    pivot === "own"
      ? [0, 0, 0]
      : [(min[0] + max[0]) / 2, pivot === "base" ? min[1] : (min[1] + max[1]) / 2, (min[2] + max[2]) / 2];
  return transformShape(shape, {
    move: [-at[0] * times, -at[1] * times, -at[2] * times],
    turn: [0, 0, 0, 1],
    scale: [times, times, times],
  });
}

/** The sites' scale times the side of their cells. */
function cellScale(sites: Domain) {
  const size = sites.columns.size?.lanes[0];
  const { lanes, fallback } = lanesOf(sites, "scale", "vector");
  const out = makeLanes("vector", sites.count) as Float32Array[];
  out.forEach((lane, a) => {
    for (let i = 0; i < sites.count; i++) lane[i] = (lanes?.[a][i] ?? fallback[a]) * (size?.[i] ?? 1);
  });
  return makeColumn("vector", out);
}

/** The parts of a set, or the shape itself. */
const partsOf = (shape: Shape): readonly Shape[] =>
  isFilled(shape) || !shape.sources ? [shape] : shape.sources.flatMap(partsOf);
