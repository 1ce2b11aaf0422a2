import {
  constant,
  mix,
  plainNumber,
  positionField,
  scaleBy,
  type VectorField,
  zip,
} from "../../fields/expression";
import type { Mesh } from "../../geometry/mesh";
import { turnedRound } from "../../geometry/transform-matrix";
import { rangeOf } from "../../kernels/statistics";
import type { Vec3 } from "../../maths/vector";
import { defineNode, type NodeContext } from "../define";
import {
  changedAboutMiddles,
  type Elements,
  elementsOf,
  isPlaced,
  onWholes,
  runColumn,
  withElements,
} from "../elements";
import { choice, field, out, shape } from "../ports";
import { axisWeights, ownScale } from "./own-frame";

export const scale = defineNode({
  type: "scale",
  family: "adjust",
  title: "Scale",
  about:
    "Makes each clone, face or curve larger or smaller (or moves the points of a mesh from or towards a pivot).",
  synonyms: ["size", "grow", "shrink", "stretch", "random size", "bigger", "smaller"],
  inputs: {
    shape: shape({ about: "What is scaled." }),
    on: onWholes(),
    size: field.number({ default: 1, soft: [0, 2], about: "Along all axes." }),
    axes: field.vector({ default: [1, 1, 1], soft: [0, 2], unit: "×", about: "And along each own axis." }),
    amount: field.number({ default: 1, soft: [0, 1], about: "0 leaves it as it is; link a falloff here." }),
    weights: axisWeights("How much of it each own axis takes: 0 1 0 changes only the height."),
    how: choice(["times", "set"], { about: "Multiply the size it has, or set it." }),
    pivot: field.vector({
      default: [0, 0, 0],
      soft: [-5, 5],
      about: "Where points scale from; all else scales where it stands.",
    }),
  },
  outputs: { shape: out.shape("The same, scaled.") },
  summary: ({ size, how }) => (how === "set" ? `set to ${size}` : `times ${size}`),
  overrides: ({ how, amount, weights }) =>
    how === "set" && amount === 1 && Array.isArray(weights) && weights.every((w) => w === 1) ? ["scale"] : [],
  evaluate({ shape, on, size, axes, amount, weights, how, pivot }, context) {
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape };
    const wanted = axes.map((axis) => scaleBy(axis, size)) as unknown as VectorField;
    const blend = (own: VectorField, to: VectorField) =>
      own.map((value, i) => mix(value, to[i], scaleBy(amount, weights[i]))) as unknown as VectorField;
    if (elements.on === "sites") {
      const own = ownScale();
      const result = blend(own, how === "set" ? wanted : zip("multiply", own, wanted));
      return {
        shape: withElements(shape, elements, { scale: runColumn("vector", result, elements, context) }),
      };
    }
    const one: VectorField = [constant(1), constant(1), constant(1)];
    const factor = blend(one, wanted);
    if (!isPlaced(elements.on)) {
      const [x, y, z] = context.run(factor, elements.domain);
      const change = (i: number, [a, b, c]: Vec3): Vec3 => [a * x[i], b * y[i], c * z[i]];
      return { shape: changedAboutMiddles(shape, elements, change) };
    }
    const place = zip("add", zip("multiply", zip("subtract", positionField(), pivot), factor), pivot);
    const scaled = withElements(shape, elements, {
      position: runColumn("vector", place, elements, context),
    });
    const mirrors = elements.on === "points" && scaled.mesh && mirrorsAll(factor, elements, context);
    return { shape: mirrors ? { ...scaled, mesh: turnedRound(scaled.mesh as Mesh) } : scaled };
  },
});

/** Whether every point is mirrored, so that all faces are to be turned round to look outward still. */
function mirrorsAll(factor: VectorField, elements: Elements, context: NodeContext): boolean {
  const product = factor.reduce(scaleBy);
  const plain = plainNumber(product);
  if (plain !== null) return plain < 0;
  const range = rangeOf(context.run([product], elements.domain)[0]);
  return range !== null && range.max < 0;
}
