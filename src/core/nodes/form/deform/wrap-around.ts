import {
  add,
  apply,
  applyAll,
  clamp,
  constant,
  mix,
  positionField,
  scaleBy,
  subtract,
  type Value,
  type VectorField,
} from "../../../fields/expression";
import { type Bounds, shapeBounds } from "../../../geometry/bounds";
import type { Mesh } from "../../../geometry/mesh";
import { pointLanes } from "../../../geometry/mesh";
import { lengthOf } from "../../../maths/exact";
import { defineNode } from "../../define";
import { placedCount } from "../../elements";
import { angle, choice, length, out, shape } from "../../ports";
import { NOTHING_CARRIED, raysOnto, surfaceTableOf } from "../../surface-queries";
import { amountInput, deformed, turnAbout } from "./along";

/** For each axis what is to the right and what is outward, so that right, axis and outward are right-handed. */
const AROUND = {
  x: { axis: 0, right: 2, outward: 1 },
  y: { axis: 1, right: 0, outward: 2 },
  z: { axis: 2, right: 1, outward: 0 },
} as const;

export const wrapAround = defineNode({
  type: "wrap-around",
  family: "form",
  title: "Wrap around",
  about:
    "Lays a flat shape around another one, as a label lies around a jar: its width goes round, its height stays.",
  synonyms: ["label", "band", "wrap", "roll around", "sticker", "cylinder deform", "belt", "project around"],
  inputs: {
    shape: shape({ about: "A mesh, curves or clones: upright along the axis, looking outward." }),
    onto: shape({ about: "The mesh that it is laid around." }),
    around: choice(["y", "x", "z"], { about: "The axis of that mesh that it goes around." }),
    width: choice(["as wide as it is", "once around"], {
      about:
        "Whether its width is kept, measured at the middle distance from the axis, or goes all the way round.",
    }),
    turn: angle({ default: 0, about: "How far around its middle lies." }),
    gap: length({ default: 0, soft: [0, 0.5], about: "Between the surface and what lay furthest inside." }),
    amount: amountInput(),
  },
  outputs: {
    shape: out.shape("The same, around the other one; above and below it, it stays at the middle distance."),
  },
  summary: ({ around, width }) => `around ${around}, ${width}`,
  cost: ({ shape }) => ({ milliseconds: placedCount(shape) * 0.002 }),
  evaluate({ shape, onto, around, width, turn, gap, amount }, context) {
    const { mesh } = onto;
    const table = surfaceTableOf(mesh, context);
    const [own, other] = [shapeBounds(shape), mesh && shapeBounds({ mesh })];
    if (!own || !table || !mesh || !other) {
      context.warn(
        own ? "No surface arrives, so nothing is laid around it." : "Nothing arrives to be laid around it.",
        { input: own ? "onto" : "shape" },
      );
      return { shape };
    }
    const { axis, right, outward } = AROUND[around];
    const middle = middleOf(other);
    const radius = meanDistance(mesh, middle, right, outward);
    const across = own.max[right] - own.min[right];
    if (!(radius > 0) || (width === "once around" && !(across > 0))) {
      context.warn(
        radius > 0
          ? "The shape has no width, so it cannot go all the way round."
          : "The surface lies on the axis, so nothing goes around it.",
        { input: radius > 0 ? "width" : "around" },
      );
      return { shape };
    }
    const place = positionField();
    const perUnit = width === "once around" ? (2 * Math.PI) / across : 1 / radius;
    const beside = subtract(place[right], constant(middleOf(own)[right]));
    const turned = add(constant(turn), scaleBy(beside, constant(perUnit)));
    const [s, c] = applyAll("sineCosine", [turned]);
    const at = (far: Value): VectorField => {
      const made: Value[] = [];
      made[axis] = place[axis];
      made[right] = add(constant(middle[right]), scaleBy(s, far));
      made[outward] = add(constant(middle[outward]), scaleBy(c, far));
      return made as unknown as VectorField;
    };
    // From outside of all of it, so that the outermost place is met.
    const reach = lengthOf(...(other.max.map((v, a) => v - other.min[a]) as [number, number, number]));
    const inward: Value[] = [constant(0), constant(0), constant(0)];
    inward[right] = subtract(constant(0), s);
    inward[outward] = subtract(constant(0), c);
    const [hit, distance] = raysOnto(
      table,
      at(constant(reach)),
      inward as unknown as VectorField,
      NOTHING_CARRIED,
      { behind: 0, most: reach, bothSides: true },
    );
    const surface = apply("select", [constant(radius), subtract(constant(reach), distance), hit]);
    const lifted = subtract(place[outward], constant(own.min[outward] - gap));
    const to = at(add(surface, lifted));
    const part = clamp(amount, constant(0), constant(1));
    const position = place.map((p, a) => mix(p, to[a], part)) as unknown as VectorField;
    return { shape: deformed(shape, { position, turn: turnAbout(axis, scaleBy(turned, part)) }, context) };
  },
});

const middleOf = ({ min, max }: Bounds): readonly number[] => min.map((v, a) => (v + max[a]) / 2);

/** Of the points from the axis through a place. */
function meanDistance(mesh: Mesh, middle: readonly number[], right: number, outward: number): number {
  const lanes = pointLanes(mesh);
  let sum = 0;
  for (let p = 0; p < mesh.points.count; p++)
    sum += lengthOf(lanes[right][p] - middle[right], lanes[outward][p] - middle[outward], 0);
  return sum / mesh.points.count;
}
