/**
 * What moves particles, as nodes hand it on: fields that are read where each particle is, which go together into one program
 * whatever their number, and limits that are applied one after the other when all have moved.
 */
import {
  add,
  apply,
  column,
  constant,
  divide,
  plainNumber,
  plainNumbers,
  scaleBy,
  type Value,
  type VectorField,
  vectorLength,
  zip,
} from "../fields/expression";
import { reads, substituted } from "../fields/substitute";
import type { Parts } from "../values/parts";

/** The place before the step, for limits. */
export const WAS = "was";
/** Where a particle was born, carried along where a force reads it. */
export const HOME = "home";
/** How far a particle is through its life, 0 to 1. */
export const AGED = "aged";
/** Seconds of the step, for limits. */
export const SECONDS = "seconds";

type Fields = Readonly<Record<string, readonly Value[]>>;

export const forceOf = (
  what: "push" | "drag" | "flow" | "limit" | "flock" | "contacts",
  title: string,
  fields: Fields,
  settings: Readonly<Record<string, unknown>> = {},
): Parts => ({ what, title, shapes: {}, fields, settings });

/** A field that is linked as it is: units a second², for each. */
export const pushing = (push: VectorField): Parts => forceOf("push", "Force", { push });

/** Slows towards the speed of the air. @param linear a second @param quadratic a unit */
export const dragging = (title: string, linear: Value, quadratic: Value, air: VectorField): Parts =>
  forceOf("drag", title, { linear: [linear], quadratic: [quadratic], air });

/** After the move: places and speeds as they must be, and whether the particle ends. */
export const limiting = (
  title: string,
  limits: { readonly place?: VectorField; readonly velocity?: VectorField; readonly ends?: Value },
): Parts =>
  forceOf("limit", title, {
    ...(limits.place && { place: limits.place }),
    ...(limits.velocity && { velocity: limits.velocity }),
    ...(limits.ends && { ends: [limits.ends] }),
  });

export const velocityField = (): VectorField => [
  column("velocity", 0),
  column("velocity", 1),
  column("velocity", 2),
];

/** `AGED`, of what is carried from step to step. */
export const agedField = (): Value =>
  apply("minimum", [divide(column("age", 0), column("life", 0)), constant(1)]);

export interface Forces {
  /** Units a second², all together. */
  readonly push: VectorField;
  /** Of the speed, a second. */
  readonly drag: Value;
  /** Units a second that particles are carried by whatever their own speed; null where nothing flows. */
  readonly flow: VectorField | null;
  readonly flocks: readonly Parts[];
}

const NOWHERE: VectorField = [constant(0), constant(0), constant(0)];

export function forcesOf(list: readonly Parts[]): Forces {
  let push = NOWHERE;
  let drag: Value = constant(0);
  let flow: VectorField | null = null;
  for (const { what, fields } of list) {
    if (fields.push) push = zip("add", push, fields.push as VectorField);
    if (what === "flow")
      flow = flow ? zip("add", flow, fields.flow as VectorField) : (fields.flow as VectorField);
    else if (what === "drag") {
      const air = fields.air as VectorField;
      const [linear] = fields.linear;
      const [quadratic] = fields.quadratic;
      // Drag that grows with the speed is taken as it is at the beginning of the step.
      const against =
        plainNumber(quadratic) === 0
          ? quadratic
          : scaleBy(quadratic, vectorLength(zip("subtract", velocityField(), air)));
      const own = add(linear, against);
      drag = add(drag, own);
      if (plainNumbers(air)?.every((v) => v === 0) !== true)
        push = zip("add", push, air.map((v) => scaleBy(v, own)) as unknown as VectorField);
    }
  }
  return {
    push,
    drag,
    flow,
    flocks: list.filter(({ what }) => what === "flock"),
  };
}

/** Whether any force or limit reads what particles only carry along for it. */
export const anyReads = (list: readonly Parts[], name: string): boolean =>
  list.some(({ fields }) => Object.values(fields).some((field) => field.some((value) => reads(value, name))));

/** Whether pushes depend on where a particle is: semi-implicit steps keep their energy then. */
export const dependsOnPlace = ({ push }: Forces): boolean => push.some((value) => reads(value, "position"));

/**
 * How far a flow carries in a step, by Runge and Kutta's classical method of fourth order (W. Kutta, 1901), with the flow as it is
 * at the end of the step: a particle that only flows keeps to its line.
 */
export function carriedBy(flow: VectorField, seconds: Value): VectorField {
  const at = (way: VectorField | null, part: number): VectorField =>
    way === null
      ? flow
      : (substituted(flow, (name, lane) =>
          name === "position"
            ? add(column("position", lane), scaleBy(scaleBy(way[lane], seconds), constant(part)))
            : null,
        ) as unknown as VectorField);
  const first = at(null, 0);
  const second = at(first, 0.5);
  const third = at(second, 0.5);
  const fourth = at(third, 1);
  return [0, 1, 2].map((a) => {
    const middle = scaleBy(add(second[a], third[a]), constant(2));
    return scaleBy(scaleBy(add(add(first[a], fourth[a]), middle), constant(1 / 6)), seconds);
  }) as unknown as VectorField;
}

export interface Limited {
  readonly place: VectorField;
  readonly velocity: VectorField;
  readonly ends: Value;
}

/** All limits one after the other, as one program: each is asked of what the ones before it leave. */
export function limitsTogether(limits: readonly Parts[]): Limited {
  let place: VectorField = [column("position", 0), column("position", 1), column("position", 2)];
  let velocity: VectorField = velocityField();
  let ends: Value = constant(0);
  for (const { fields } of limits) {
    const now = { position: place, velocity } as Record<string, VectorField>;
    const read = (values: readonly Value[]) => substituted(values, (name, lane) => now[name]?.[lane] ?? null);
    const [nextPlace, nextVelocity, nextEnds] = [
      fields.place ? read(fields.place) : place,
      fields.velocity ? read(fields.velocity) : velocity,
      fields.ends ? read(fields.ends)[0] : null,
    ];
    [place, velocity] = [nextPlace as VectorField, nextVelocity as VectorField];
    if (nextEnds) ends = apply("maximum", [ends, nextEnds]);
  }
  return { place, velocity, ends };
}

/** Units a second at which push and drag are even, where both are the same for all; null where they are not. */
export function terminalSpeed(list: readonly Parts[]): number | null {
  const push = plainNumbers(forcesOf(list.filter(({ what }) => what === "push")).push);
  let [linear, quadratic] = [0, 0];
  for (const { what, fields } of list) {
    if (what !== "drag") continue;
    const air = plainNumbers(fields.air);
    const [k, q] = [plainNumber(fields.linear[0]), plainNumber(fields.quadratic[0])];
    if (k === null || q === null || !air || air.some((v) => v !== 0)) return null;
    linear += k;
    quadratic += q;
  }
  if (!push || (linear <= 0 && quadratic <= 0)) return null;
  const pull = Math.sqrt(push[0] ** 2 + push[1] ** 2 + push[2] ** 2);
  if (pull === 0) return null;
  return quadratic > 0
    ? (Math.sqrt(linear * linear + 4 * quadratic * pull) - linear) / (2 * quadratic)
    : pull / linear;
}
