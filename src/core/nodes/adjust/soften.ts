import { tick } from "../../cancelling";
import { makeColumn } from "../../geometry/column";
import { premultiplied, straighten } from "../../geometry/premultiplied";
import { type Incidence, topologyOf } from "../../geometry/topology";
import { addTurn, unitRotation } from "../../maths/quaternion";
import { own } from "../../own";
import { PointGrid } from "../../spatial/point-grid";
import { reachOf } from "../../spatial/reach";
import { defineNode } from "../define";
import { elementsOf, onElements, withElements } from "../elements";
import { choice, field, integer, length, out, shape, text } from "../ports";

export const soften = defineNode({
  type: "soften",
  family: "adjust",
  title: "Soften",
  about: "Brings an attribute nearer to the average of the neighbours within a distance.",
  synonyms: ["blur", "smooth", "average", "diffuse", "relax", "neighbours", "mean"],
  inputs: {
    shape: shape({ about: "Clones, sites, or the elements of a mesh or of curves." }),
    on: onElements(),
    attribute: text({ default: "color", about: "Which attribute is softened." }),
    near: choice(["within a radius", "joined by edges"], {
      about:
        "Who is a neighbour: what is near, or, of the points of a mesh, what an edge leads to, so that it stays on the surface.",
    }),
    radius: length({
      default: 0.5,
      min: 0,
      soft: [0, 3],
      shownWhen: { input: "near", is: ["within a radius"] },
      about: "Neighbours are those no further away.",
    }),
    rounds: integer({
      default: 1,
      min: 0,
      max: 100,
      soft: [0, 10],
      about: "How often; each reaches a radius further.",
    }),
    amount: field.number({ default: 1, min: 0, max: 1, soft: [0, 1], about: "How far towards the average." }),
  },
  outputs: { shape: out.shape("The same, with the attribute softened.") },
  summary: ({ attribute, near, radius }) =>
    near === "joined by edges" ? `${attribute} along edges` : `${attribute} over ${radius} units`,
  evaluate({ shape, on, attribute, near, radius, rounds, amount }, context) {
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape };
    const { domain } = elements;
    const column = own(domain.columns, attribute);
    if (!column || column.kind === "integer") {
      context.warn(
        column
          ? `"${attribute}" is whole numbers, which have no average; nothing was changed.`
          : `No attribute "${attribute}" arrives, so there is nothing to soften.`,
        { input: "attribute" },
      );
      return { shape };
    }
    const place = domain.columns.position.lanes as Float32Array[];
    const [amounts] = context.run([amount], domain);
    const alongEdges = near === "joined by edges" && elements.on === "points" && shape.mesh;
    if (near === "joined by edges" && !alongEdges)
      context.warn("Only the points of a mesh are joined by edges; those within the radius were taken.", {
        input: "near",
        repair: { label: "Take those within a radius", input: "near", value: "within a radius" },
      });
    const { starts, numbers } = alongEdges
      ? withItself(topologyOf(alongEdges).pointsOfPoints)
      : new PointGrid(place).within(place, reachOf(radius, place));
    let lanes = premultiplied(column) as readonly Float32Array[];
    for (let round = 0; round < rounds; round++) {
      lanes =
        column.kind === "rotation"
          ? averagedTurns(lanes, starts, numbers, amounts)
          : lanes.map((lane) => averaged(lane, starts, numbers, amounts));
    }
    if (rounds === 0) return { shape };
    straighten(column.kind, lanes);
    return { shape: withElements(shape, elements, { [attribute]: makeColumn(column.kind, lanes) }) };
  },
});

/** Neighbours, and each element itself first. */
function withItself({ starts, items }: Incidence): { starts: Int32Array; numbers: Int32Array } {
  const numbers = new Int32Array(items.length + starts.length - 1);
  for (let i = 0; i + 1 < starts.length; i++) {
    numbers[starts[i] + i] = i;
    numbers.set(items.subarray(starts[i], starts[i + 1]), starts[i] + i + 1);
  }
  return { starts: starts.map((start, i) => start + i), numbers };
}

function averaged(
  lane: Float32Array,
  starts: Int32Array,
  numbers: Int32Array,
  amounts: Float32Array,
): Float32Array {
  const out = new Float32Array(lane.length);
  for (let i = 0; i < lane.length; i++) {
    const count = starts[i + 1] - starts[i];
    tick(count);
    let sum = 0;
    for (let e = starts[i]; e < starts[i + 1]; e++) sum += lane[numbers[e]];
    out[i] = count > 0 ? lane[i] + (sum / count - lane[i]) * amounts[i] : lane[i];
  }
  return out;
}

/** Rotations are added on the side of the element's own. */
function averagedTurns(
  lanes: readonly Float32Array[],
  starts: Int32Array,
  numbers: Int32Array,
  amounts: Float32Array,
): Float32Array[] {
  const out = lanes.map((lane) => new Float32Array(lane.length));
  for (let i = 0; i < lanes[0].length; i++) {
    const count = starts[i + 1] - starts[i];
    tick(count * 4);
    const sums = [0, 0, 0, 0];
    for (let e = starts[i]; e < starts[i + 1]; e++) addTurn(sums, lanes, numbers[e], i);
    for (let l = 0; l < 4; l++)
      out[l][i] = count > 0 ? lanes[l][i] + (sums[l] / count - lanes[l][i]) * amounts[i] : lanes[l][i];
    unitRotation(out, i);
  }
  return out;
}
