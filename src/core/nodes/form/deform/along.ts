/** What deformers have in common: an axis, a range along it, and all elements of a shape that have places. */
import {
  add,
  apply,
  clamp,
  column,
  constant,
  divide,
  positionField,
  type RotationField,
  subtract,
  type Value,
  type VectorField,
  zip,
} from "../../../fields/expression";
import { substituted } from "../../../fields/substitute";
import { reachAlong } from "../../../geometry/bounds";
import { HANDLES } from "../../../geometry/curves";
import type { Shape } from "../../../geometry/shape";
import { composed, ownRotation } from "../../adjust/own-frame";
import type { NodeContext } from "../../define";
import { runColumn, withPlaced } from "../../elements";
import { choice, field, length, vector } from "../../ports";

const OVER = ["its whole length", "a range"] as const;

/** The inputs of a deformer along an axis. @param what "turns": what happens between beginning and end */
export const alongInputs = (what: string) =>
  ({
    along: choice(["x", "y", "z"], { default: "y", about: `The axis along which it ${what}.` }),
    over: choice(OVER, { about: "From one end of the shape to the other, or from and to where is said." }),
    from: length({
      default: -1,
      soft: [-5, 5],
      shownWhen: { input: "over", is: ["a range"] },
      about: "Where on the axis it begins; nothing changes before.",
    }),
    to: length({
      default: 1,
      soft: [-5, 5],
      shownWhen: { input: "over", is: ["a range"] },
      about: "Where it ends; what is behind follows.",
    }),
    middle: vector({
      default: [0, 0, 0],
      soft: [-5, 5],
      handle: "place",
      about: "A place that the axis goes through.",
    }),
  }) as const;

export const amountInput = () =>
  field.number({ default: 1, soft: [0, 1], about: "Times all of it, at each element; link a mask here." });

/** An axis and the two that stand on it, right-handed, from a place on it on. */
export interface Along {
  readonly axis: 0 | 1 | 2;
  readonly sides: readonly [0 | 1 | 2, 0 | 1 | 2];
  readonly from: number;
  readonly length: number;
  readonly middle: readonly number[];
}

const AXES = { x: 0, y: 1, z: 2 } as const;

/** Null, with a warning, when nothing arrives. */
export function alongOf(
  {
    shape,
    along,
    over,
    from,
    to,
    middle,
  }: {
    shape: Shape;
    along: "x" | "y" | "z";
    over: (typeof OVER)[number];
    from: number;
    to: number;
    middle: readonly number[];
  },
  context: NodeContext,
): Along | null {
  const axis = AXES[along];
  const reach = reachAlong(shape, axis);
  if (!reach) {
    context.warn("Nothing arrives, so there is nothing to change.", { input: "shape" });
    return null;
  }
  const [low, high] = over === "a range" ? [from, to] : reach;
  if (!(high > low)) {
    context.warn(
      over === "a range"
        ? "The range ends where it begins or before, so nothing is changed."
        : `The shape is flat along ${along}, so nothing is changed. Take another axis, or a range.`,
      { input: over === "a range" ? "to" : "along" },
    );
    return null;
  }
  return {
    axis,
    sides: [((axis + 1) % 3) as 0, ((axis + 2) % 3) as 0],
    from: low,
    length: high - low,
    middle,
  };
}

/** How far along the range each element is, 0 … 1. */
export const partAlong = ({ axis, from, length }: Along): Value =>
  clamp(divide(subtract(positionField()[axis], constant(from)), constant(length)), constant(0), constant(1));

/** The element's place beside the axis, along the two sides. */
export const beside = ({ sides, middle }: Along): readonly [Value, Value] => {
  const place = positionField();
  return [
    subtract(place[sides[0]], constant(middle[sides[0]])),
    subtract(place[sides[1]], constant(middle[sides[1]])),
  ];
};

/** A place from where it is along the axis and beside it. */
export function placeOf({ axis, sides, middle }: Along, on: Value, b: Value, c: Value): VectorField {
  const place: Value[] = [];
  place[axis] = on;
  place[sides[0]] = add(b, constant(middle[sides[0]]));
  place[sides[1]] = add(c, constant(middle[sides[1]]));
  return place as unknown as VectorField;
}

/** A turn about one of the axes. */
export function turnAbout(axis: 0 | 1 | 2, angle: Value): RotationField {
  const [s, c] = apply2(angle);
  const turn: Value[] = [constant(0), constant(0), constant(0), c];
  turn[axis] = s;
  return turn as unknown as RotationField;
}

const apply2 = (angle: Value): readonly [Value, Value] => {
  const half = divide(angle, constant(2));
  return [apply("sine", [half]), apply("cosine", [half])];
};

/** Where the end of a handle comes to, if a place comes to `position`. */
const endOf = (handle: string, position: VectorField): VectorField =>
  substituted(position, (name, lane) =>
    name === "position" ? add(column("position", lane), column(handle, lane)) : null,
  ) as unknown as VectorField;

export interface Deformation {
  readonly position: VectorField;
  /** By which sites turn with it. */
  readonly turn?: RotationField;
}

/** All that has places, moved; sites are turned as well, and ends of handles go where a point there would. */
export const deformed = (shape: Shape, { position, turn }: Deformation, context: NodeContext): Shape =>
  withPlaced(shape, (elements) => ({
    position: runColumn("vector", position, elements, context),
    ...Object.fromEntries(
      HANDLES.filter((name) => elements.domain.columns[name]).map((name) => [
        name,
        runColumn("vector", zip("subtract", endOf(name, position), position), elements, context),
      ]),
    ),
    ...(turn &&
      elements.on === "sites" && {
        rotation: runColumn("rotation", composed(turn, ownRotation()), elements, context),
      }),
  }));
