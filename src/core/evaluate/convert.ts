/** What a link may carry into an input of another kind, and how it is turned into what the input needs. */
import {
  apply,
  type ColorField,
  constant,
  type NumberField,
  plainNumber,
  plainNumbers,
  type RotationField,
  scaleBy,
  type Value,
  type VectorField,
  vectorLength,
} from "../fields/expression";
import { turnsOf } from "../fields/turns";
import type { Shape } from "../geometry/shape";
import { RADIANS } from "../maths/quaternion";
import { type AnyInput, NodeError } from "../nodes/define";
import { HANDED_ON, type PortKind } from "../nodes/ports";
import { usualBirths } from "../particles/emitting";
import { pushing } from "../particles/forces";

/** Kinds of link each kind of input takes, its own first. */
const ACCEPTS: Readonly<Record<PortKind, readonly PortKind[]>> = {
  shape: ["shape"],
  number: ["number", "toggle", "vector"],
  vector: ["vector", "number", "color"],
  rotation: ["rotation", "vector"],
  color: ["color", "vector", "number"],
  toggle: ["toggle", "number"],
  text: ["text"],
  choice: ["choice", "number"],
  gradient: ["gradient"],
  profile: ["profile"],
  path: ["path"],
  painted: ["painted"],
  asset: ["asset"],
  births: ["births", "shape"],
  forces: ["forces", "vector"],
  camera: ["camera"],
  light: ["light"],
  finish: ["finish"],
};

export const canLink = (from: PortKind, to: PortKind): boolean => ACCEPTS[to].includes(from);

/** Why an output cannot feed an input, for the designer; null when it can. */
export function linkFault(from: PortKind, to: PortKind): string | null {
  if (canLink(from, to)) return null;
  return `A ${KIND_WORDS[to]} input takes ${listWords(ACCEPTS[to].map((k) => KIND_WORDS[k]))}, not a ${KIND_WORDS[from]}.`;
}

export const KIND_WORDS: Readonly<Record<PortKind, string>> = {
  shape: "shape",
  number: "number",
  vector: "vector",
  rotation: "rotation",
  color: "colour",
  toggle: "yes/no",
  text: "text",
  choice: "choice",
  gradient: "gradient",
  profile: "profile",
  path: "path",
  painted: "painted mask",
  asset: "asset",
  births: "source of births",
  forces: "force",
  camera: "camera",
  light: "light",
  finish: "finish",
};

const listWords = (words: readonly string[]): string =>
  words.length < 2 ? words.join("") : `${words.slice(0, -1).join(", ")} or ${words[words.length - 1]}`;

/** Kinds that arrive as they are. */
const PASSED_ON = new Set<PortKind>(["shape", "gradient", "profile", "path", "painted", "text", "asset"]);

/** Components of a value that arrives: one for numbers, three for vectors, four for rotations and colours. */
type Arriving = Value | readonly Value[];

/**
 * What arrives on a link, as `evaluate` wants it.
 * @throws NodeError when a plain input gets a value per element, or a number that is not finite.
 */
export function convertLinked(name: string, input: AnyInput, from: PortKind, arriving: unknown): unknown {
  if (PASSED_ON.has(input.kind) || (input.kind === from && HANDED_ON.has(from))) return arriving;
  if (input.kind === "births") return usualBirths(arriving as Shape);
  if (input.kind === "forces") return pushing(arriving as VectorField);
  if (from === "choice") return limitChoice(name, input, arriving as string);
  const values = toKind(input.kind, from, arriving as Arriving, input.unit === "°");
  if (input.perElement) return values.length === 1 ? values[0] : values;
  const plain = plainNumbers(values);
  if (!plain) {
    throw new NodeError(
      `"${name}" takes one value for all, and a value per element arrives. Link something that does not depend on the element.`,
      name,
    );
  }
  if (!plain.every(Number.isFinite)) throw new NodeError(`What arrives at "${name}" is not a number.`, name);
  if (input.kind === "toggle") return plain[0] > 0.5;
  if (input.kind === "choice") {
    const choices = input.choices ?? [];
    return choices[Math.min(choices.length - 1, Math.max(0, Math.floor(plain[0])))];
  }
  if (input.kind === "number") return limitNumber(name, input, plain[0]);
  return plain;
}

/** A choice of another node, by its word. */
function limitChoice(name: string, { choices = [] }: AnyInput, arriving: string): string {
  if (choices.includes(arriving)) return arriving;
  throw new NodeError(`"${name}" is one of ${choices.join(", ")}; "${arriving}" arrives.`, name);
}

/** A linked number inside the hard limits. Angles arrive here in radians; their limits are degrees. */
function limitNumber(name: string, input: AnyInput, value: number): number {
  const unit = input.unit === "°" ? RADIANS : 1;
  const whole = input.whole ? Math.round(value) : value;
  if (input.min !== undefined && whole < input.min * unit) {
    throw new NodeError(`"${name}" must be ${input.min} or more; ${whole / unit} arrives.`, name);
  }
  if (input.max !== undefined && whole > input.max * unit) {
    throw new NodeError(`"${name}" must be ${input.max} or less; ${whole / unit} arrives.`, name);
  }
  return whole;
}

function toKind(to: PortKind, from: PortKind, arriving: Arriving, inDegrees: boolean): readonly Value[] {
  const radians = constant(RADIANS);
  switch (to) {
    case "vector":
      if (from === "number") return [arriving, arriving, arriving] as VectorField;
      return (arriving as ColorField).slice(0, 3);
    case "rotation":
      if (from === "rotation") return arriving as RotationField;
      return turnsOf((arriving as VectorField).map((v) => scaleBy(v, radians)) as unknown as VectorField);
    case "color":
      if (from === "number") return [arriving, arriving, arriving, constant(1)] as ColorField;
      if (from === "vector") return [...(arriving as VectorField), constant(1)];
      return arriving as ColorField;
    default: {
      const number: NumberField =
        from === "vector" ? vectorLength(arriving as VectorField) : (arriving as Value);
      if (to === "toggle") return [toggleOf(number)];
      return [inDegrees ? scaleBy(number, radians) : number];
    }
  }
}

const toggleOf = (value: NumberField): NumberField => {
  const plain = plainNumber(value);
  return plain === null ? apply("less", [constant(0.5), value]) : constant(plain > 0.5 ? 1 : 0);
};
