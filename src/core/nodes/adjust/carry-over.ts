import { tick } from "../../cancelling";
import { apply, clamp, column, constant, mix, scaleBy, type Value } from "../../fields/expression";
import { type Column, type Domain, makeColumn, makeLanes } from "../../geometry/column";
import { premultiplied, straighten } from "../../geometry/premultiplied";
import type { Shape } from "../../geometry/shape";
import { unitRotation } from "../../maths/quaternion";
import { own } from "../../own";
import { PointGrid } from "../../spatial/point-grid";
import { reachOf } from "../../spatial/reach";
import { defineNode, type NodeContext } from "../define";
import { type Elements, elementsOf, onElements, SILENTLY, withElements } from "../elements";
import { choice, field, integer, length, out, shape, text } from "../ports";
import { fromSurface, SURFACE_WAYS, type SurfaceWay } from "./carried-from-surface";

export const carryOver = defineNode({
  type: "carry-over",
  family: "adjust",
  title: "Carry over",
  about: "Takes an attribute over from the nearest elements of another shape.",
  synonyms: ["transfer", "copy attribute", "sample", "nearest", "inherit", "colour from", "blend"],
  inputs: {
    shape: shape({ about: "What gets the attribute: clones, sites or points." }),
    on: onElements(),
    from: shape({ about: "What it is taken from." }),
    among: onElements(undefined, "Which of its elements: sites, else points, unless others are named."),
    by: choice(["the nearest elements", ...SURFACE_WAYS], {
      about:
        "Where it is taken: of the nearest elements, mixed over the face that is nearest or that facings meet, or where both lie on a picture.",
    }),
    attribute: text({ default: "color", about: "Which attribute." }),
    samples: integer({
      default: 1,
      min: 1,
      max: 64,
      soft: [1, 16],
      shownWhen: { input: "by", is: ["the nearest elements"] },
      about: "How many near ones are blended, nearer ones counting more; 1 takes the nearest one's as it is.",
    }),
    reach: length({
      default: 0,
      min: 0,
      soft: [0, 5],
      about: "Only from those no further away; 0 sets no limit.",
    }),
    amount: field.number({
      default: 1,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "How far from what it was to that.",
    }),
  },
  outputs: { shape: out.shape("The same, with the attribute.") },
  summary: ({ attribute, samples }) =>
    `${attribute}, ${samples === 1 ? "of the nearest" : `${samples} blended`}`,
  evaluate({ shape, on, from, among, by, attribute, samples, reach, amount }, context) {
    const elements = elementsOf(shape, context, on);
    if (by !== "the nearest elements")
      return elements
        ? { shape: overSurface(shape, elements, from, { by, attribute, reach, amount }, context) }
        : { shape };
    const source = elementsOf(from, SILENTLY, among)?.domain;
    if (!elements) return { shape };
    const column = columnOf(source, attribute, context);
    if (!source || !column) return { shape };
    const { domain } = elements;
    const k = Math.min(samples, source.count);
    const there = source.columns.position.lanes as Float32Array[];
    const here = domain.columns.position.lanes as Float32Array[];
    const { distances, numbers } = new PointGrid(there).nearest(here, {
      k,
      ...(reach > 0 ? { most: reachOf(reach, there, here) } : {}),
    });
    const [amounts] = context.run([amount], domain);
    const before = own(domain.columns, attribute);
    const old = before?.kind === column.kind ? premultiplied(before) : undefined;
    const taken = premultiplied(column);
    const lanes = makeLanes(column.kind, domain.count);
    let missed = 0;
    for (let i = 0; i < domain.count; i++) {
      tick(k * 4);
      const near = numbers.subarray(i * k, i * k + k).filter((n) => n >= 0).length;
      if (near === 0) missed++;
      const weights = weightsOf(distances.subarray(i * k, i * k + near));
      const share = near === 0 ? 0 : amounts[i];
      lanes.forEach((lane, l) => {
        const was = old?.[l][i] ?? (share === 0 ? 0 : taken[l][numbers[i * k]]);
        let sum = 0;
        for (let s = 0; s < near; s++) sum += taken[l][numbers[i * k + s]] * weights[s];
        // What is whole or picked is not mixed.
        lane[i] =
          column.kind === "integer"
            ? share >= 0.5
              ? taken[l][numbers[i * k]]
              : was
            : was + (sum - was) * share;
      });
      if (column.kind === "rotation") unitRotation(lanes, i);
    }
    straighten(column.kind, lanes);
    if (missed > 0)
      context.warn(`${missed} of ${domain.count} have none within ${reach} units and keep what they had.`, {
        input: "reach",
      });
    return { shape: withElements(shape, elements, { [attribute]: makeColumn(column.kind, lanes) }) };
  },
});

interface Carrying {
  readonly by: SurfaceWay;
  readonly attribute: string;
  readonly reach: number;
  readonly amount: Value;
}

/** Units that rays go either way where no limit is set. */
const FAR = 1e4;

function overSurface(
  shape: Shape,
  elements: Elements,
  from: Shape,
  { by, attribute, reach, amount }: Carrying,
  context: NodeContext,
): Shape {
  const kind =
    from.mesh &&
    (own(from.mesh.corners.columns, attribute) ?? own(from.mesh.points.columns, attribute))?.kind;
  const carried = from.mesh && fromSurface(from.mesh, attribute, by, reach > 0 ? reach : FAR, context);
  if (!carried || !kind || kind === "integer" || kind === "rotation") {
    context.warn(
      carried
        ? `The surface has no attribute "${attribute}" that can be mixed, so nothing was changed.`
        : "No surface arrives that can be asked so, so nothing was changed.",
      { input: "from" },
    );
    return shape;
  }
  const limit = reach > 0 && by !== "the same place of a picture";
  const near = limit ? apply("less", [carried.distance, constant(reach * (1 + 1e-6))]) : constant(1);
  const before = own(elements.domain.columns, attribute)?.kind === kind;
  const share = scaleBy(clamp(amount, constant(0), constant(1)), scaleBy(carried.found, near));
  const values = carried.values.map((value, l) =>
    before ? mix(column(attribute, l), value, share) : scaleBy(value, kind === "color" ? constant(1) : share),
  );
  return withElements(shape, elements, {
    [attribute]: makeColumn(kind, context.run(values, elements.domain)),
  });
}

function columnOf(source: Domain | undefined, attribute: string, context: NodeContext): Column | null {
  if (!source || source.count === 0) {
    context.warn("Nothing arrives to take from, so nothing was changed.", { input: "from" });
    return null;
  }
  const column = own(source.columns, attribute);
  if (!column)
    context.warn(`What it is taken from has no attribute "${attribute}", so nothing was changed.`, {
      input: "attribute",
    });
  return column ?? null;
}

/** By the inverse square of the distance (D. Shepard, 1968); together 1. Those on the place count alone. */
function weightsOf(distances: Float32Array): Float64Array {
  const weights = Float64Array.from(distances, (d) => (d < 1e-9 ? 1e18 : 1 / (d * d)));
  const whole = weights.reduce((a, b) => a + b, 0);
  return weights.map((w) => w / whole);
}
