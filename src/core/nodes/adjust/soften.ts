import { tick } from "../../cancelling";
import { besides, isJoined, type Joined } from "../../geometry/across";
import { makeColumn } from "../../geometry/column";
import type { Mesh } from "../../geometry/mesh";
import { premultiplied, straighten } from "../../geometry/premultiplied";
import { addTurn, unitRotation } from "../../maths/quaternion";
import { own } from "../../own";
import { PointGrid } from "../../spatial/point-grid";
import { reachOf } from "../../spatial/reach";
import { defineNode } from "../define";
import { elementsOf, onElements, withElements } from "../elements";
import { choice, field, integer, length, out, shape, text } from "../ports";

const TAKES = ["the average", "the greatest", "the least"] as const;

export const soften = defineNode({
  type: "soften",
  family: "adjust",
  title: "Soften",
  about:
    "Brings an attribute nearer to the average of the neighbours, or to the greatest or least, so that what is chosen grows or shrinks.",
  synonyms: [
    "blur",
    "smooth",
    "average",
    "diffuse",
    "relax",
    "neighbours",
    "mean",
    "grow selection",
    "shrink selection",
    "expand mask",
    "dilate",
    "erode mask",
  ],
  inputs: {
    shape: shape({ about: "Clones, sites, or the elements of a mesh or of curves." }),
    on: onElements(),
    attribute: text({ default: "color", about: "Which attribute is softened." }),
    take: choice(TAKES, {
      about: "Of the neighbours and itself: the greatest lets a mask grow, the least lets it shrink.",
    }),
    near: choice(["within a radius", "joined by edges"], {
      about:
        "Who is a neighbour: what is near, or, of the points, edges and faces of a mesh, what lies beside it, so that it stays on the surface.",
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
    amount: field.number({ default: 1, min: 0, max: 1, soft: [0, 1], about: "How far towards it." }),
  },
  outputs: { shape: out.shape("The same, with the attribute softened.") },
  summary: ({ attribute, take, near, radius }) => {
    const what = take === "the average" ? attribute : `${take} of ${attribute}`;
    return near === "joined by edges" ? `${what} along edges` : `${what} over ${radius} units`;
  },
  evaluate({ shape, on, attribute, take, near, radius, rounds, amount }, context) {
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
    const joined = near === "joined by edges" && isJoined(elements.on) && shape.mesh;
    if (near === "joined by edges" && !joined)
      context.warn(
        "Only points, edges and faces of a mesh are joined by edges; those within the radius were taken.",
        {
          input: "near",
          repair: { label: "Take those within a radius", input: "near", value: "within a radius" },
        },
      );
    if (take !== "the average" && column.kind !== "number") {
      context.warn(
        `"${attribute}" is no number, so none is the greatest or the least; nothing was changed.`,
        {
          input: "take",
          repair: { label: "Take the average", input: "take", value: "the average" },
        },
      );
      return { shape };
    }
    const { starts, numbers } =
      joined && isJoined(elements.on)
        ? beside(joined, elements.on)
        : new PointGrid(place).within(place, reachOf(radius, place));
    let lanes = premultiplied(column) as readonly Float32Array[];
    for (let round = 0; round < rounds; round++) {
      lanes =
        column.kind === "rotation"
          ? averagedTurns(lanes, starts, numbers, amounts)
          : lanes.map((lane) =>
              take === "the average"
                ? averaged(lane, starts, numbers, amounts)
                : furthest(lane, starts, numbers, amounts, take === "the greatest" ? 1 : -1),
            );
    }
    if (rounds === 0) return { shape };
    straighten(column.kind, lanes);
    return { shape: withElements(shape, elements, { [attribute]: makeColumn(column.kind, lanes) }) };
  },
});

function beside(mesh: Mesh, on: Joined): { starts: Int32Array; numbers: Int32Array } {
  const { starts, items } = besides(mesh, on);
  return { starts, numbers: items };
}

/** @param sign 1 for the greatest, −1 for the least */
function furthest(
  lane: Float32Array,
  starts: Int32Array,
  numbers: Int32Array,
  amounts: Float32Array,
  sign: 1 | -1,
): Float32Array {
  return lane.map((own, i) => {
    tick(starts[i + 1] - starts[i]);
    let best = own;
    for (let e = starts[i]; e < starts[i + 1]; e++)
      if (sign * lane[numbers[e]] > sign * best) best = lane[numbers[e]];
    return own + (best - own) * amounts[i];
  });
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
