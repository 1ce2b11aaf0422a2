import { AlongCurves } from "../../../curves/along-curves";
import { PartsBetween } from "../../../curves/part-between";
import { type SampledCurve, sampledCurves } from "../../../curves/sampled-curves";
import { defineNode } from "../../define";
import { field, out, shape } from "../../ports";

export const partOfPath = defineNode({
  type: "part-of-path",
  family: "form",
  title: "Part of path",
  about: "A part of every curve, from one place of its length to another: lines that draw themselves.",
  synonyms: ["draw on", "reveal line", "trim curve", "cut", "grow line", "write on", "start end"],
  inputs: {
    shape: shape({ about: "Curves." }),
    from: field.number({
      default: 0,
      soft: [0, 1],
      about: "Where it begins, as a part of each curve's length.",
    }),
    to: field.number({
      default: 1,
      soft: [0, 1],
      about: "Where it ends; what ends before it begins is left out.",
    }),
    shift: field.number({
      default: 0,
      soft: [0, 1],
      about: "Moves both along; round and round a closed curve, until the ends of an open one.",
    }),
  },
  outputs: { shape: out.shape("What is left of the curves; a part of a closed one is open.") },
  evaluate({ shape, from, to, shift }, context) {
    const { curves } = shape;
    if (!curves || curves.points.count === 0) {
      context.warn("No curves arrive, so there is nothing to trim.", { input: "shape" });
      return { shape };
    }
    const along = new AlongCurves(curves);
    const [begins, ends, shifts] = context.run([from, to, shift], curves.curves);
    const made: SampledCurve[] = [];
    for (let k = 0; k < along.count; k++) {
      const parts = new PartsBetween(along, k, curves.curveStarts[k]);
      const part = parts.between(begins[k] + shifts[k], ends[k] + shifts[k]);
      if (part) made.push(part);
    }
    return { shape: { ...shape, curves: sampledCurves(curves, made) } };
  },
});
