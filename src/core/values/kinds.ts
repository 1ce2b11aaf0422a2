/**
 * What every kind of value is made of, in one place: the memory that it stands in, and what stands for it where values are
 * compared. Results, states and keys are looked after by this list alone, so a kind that is not in it cannot be carried.
 *
 * A carried value is what an output gives, or an input got: a shape, a field (one value a component) or a plain setting; for
 * inputs that take several, a list of them.
 */
import { inputsFirst, isValue, lanesHeldBy, type Step, type Value } from "../fields/expression";
import type { Lane } from "../geometry/column";
import { arraysOf } from "../geometry/domains";
import type { Shape } from "../geometry/shape";
import type { PortKind } from "../nodes/ports";
import { own } from "../own";
import type { Parts } from "./parts";

export interface ValueKind {
  /** Every array that the value may be read from. */
  readonly lanes: (value: unknown) => Iterable<Lane>;
  /** Equal values have equal fingerprints, for as long as the program runs. */
  readonly fingerprint: (value: unknown) => string;
  /** Whether it can be sent to another thread that works in the same memory. */
  readonly crosses: boolean;
}

const NO_LANES: readonly Lane[] = [];

const all = (value: unknown): readonly unknown[] => (Array.isArray(value) ? value : [value]);

/** Shapes are never changed, only replaced, so each is told apart by being that very object. */
const SHAPE: ValueKind = {
  *lanes(value) {
    for (const shape of all(value)) if (shape) yield* arraysOf(shape as Shape);
  },
  fingerprint: (value) => (Array.isArray(value) ? value.map(identityOf).join(",") : identityOf(value)),
  crosses: true,
};

/** Fields are told apart by their structure, so one that is made anew but is the same program leaves what uses it alone. */
const FIELD: ValueKind = {
  *lanes(value) {
    for (const part of all(value).flat()) if (isValue(part)) yield* lanesHeldBy(part);
  },
  fingerprint(value) {
    if (isValue(value)) return valueFingerprint(value);
    if (Array.isArray(value) && value.every(isValue)) return value.map(valueFingerprint).join(",");
    return JSON.stringify(value) ?? "nothing";
  },
  crosses: true,
};

const PLAIN: ValueKind = {
  lanes: () => NO_LANES,
  fingerprint: (value) => (isValue(value) ? valueFingerprint(value) : (JSON.stringify(value) ?? "nothing")),
  crosses: true,
};

/** Shapes and fields together, each told apart as it is alone. */
const PARTS: ValueKind = {
  *lanes(value) {
    for (const parts of all(value) as (Parts | null)[]) {
      yield* SHAPE.lanes(Object.values(parts?.shapes ?? {}));
      yield* FIELD.lanes(Object.values(parts?.fields ?? {}));
    }
  },
  fingerprint: (value) =>
    (all(value) as (Parts | null)[])
      .map((parts) =>
        parts
          ? [
              parts.what,
              JSON.stringify(parts.settings),
              ...Object.entries(parts.shapes).map(([name, shape]) => name + identityOf(shape)),
              ...Object.entries(parts.fields).map(([name, field]) => name + FIELD.fingerprint(field)),
            ].join(";")
          : "none",
      )
      .join("|"),
  crosses: true,
};

/** Files are read once and stand in arrays of their own, which nobody takes back. */
const FILE: ValueKind = { lanes: () => NO_LANES, fingerprint: identityOf, crosses: false };

export const VALUE_KINDS: Readonly<Record<PortKind, ValueKind>> = {
  shape: SHAPE,
  number: FIELD,
  vector: FIELD,
  rotation: FIELD,
  color: FIELD,
  // Yes and no may come from another node's input, as 1 and 0.
  toggle: FIELD,
  text: PLAIN,
  choice: PLAIN,
  gradient: PLAIN,
  profile: PLAIN,
  path: PLAIN,
  painted: PLAIN,
  asset: FILE,
  births: PARTS,
  forces: PARTS,
  camera: PARTS,
  light: PARTS,
  finish: PARTS,
};

/** @param carried a value of that kind as outputs have it */
export const fingerprintOf = (kind: PortKind, carried: unknown): string =>
  VALUE_KINDS[kind].fingerprint(carried);

/** Every array that named values of declared kinds may be read from. */
export function* lanesOfValues(
  ports: Readonly<Record<string, { readonly kind: PortKind }>>,
  values: Readonly<Record<string, unknown>>,
): Generator<Lane> {
  for (const [name, value] of Object.entries(values))
    if (ports[name]) yield* VALUE_KINDS[ports[name].kind].lanes(value);
}

/** Bytes of all that named values of declared kinds may be read from, what several share counted once. */
export function bytesOfValues(
  ports: Readonly<Record<string, { readonly kind: PortKind }>>,
  values: Readonly<Record<string, unknown>>,
): number {
  let bytes = 0;
  for (const lane of new Set(lanesOfValues(ports, values))) bytes += lane.byteLength;
  return bytes;
}

/** The shapes among named values of declared kinds. */
export function* shapesAmong(
  ports: Readonly<Record<string, { readonly kind: PortKind }>>,
  values: Readonly<Record<string, unknown>>,
): Generator<Shape> {
  for (const [name, value] of Object.entries(values))
    if (ports[name]?.kind === "shape") for (const shape of all(value)) if (shape) yield shape as Shape;
}

/** A named shape; undefined when there is none, or it is of another kind. */
export const shapeNamed = (
  ports: Readonly<Record<string, { readonly kind: PortKind }>>,
  values: Readonly<Record<string, unknown>>,
  name: string,
): Shape | undefined =>
  own(ports, name)?.kind === "shape" ? (all(values[name])[0] as Shape | undefined) : undefined;

/** By the key of a step and the fingerprints of its inputs. */
const known = new Map<string, string>();
const steps = new WeakMap<Step, string>();
const objects = new WeakMap<object, string>();
let counter = 0;

/** Keys remembered at most; forgetting them only means that something is worked out once more. */
const MOST = 50_000;

function identityOf(object: unknown): string {
  if (!object) return "none";
  let name = objects.get(object);
  if (!name) objects.set(object, (name = `o${counter++}`));
  return name;
}

const valueFingerprint = ({ step, lane }: Value): string => `${stepFingerprint(step)}.${lane}`;

function stepFingerprint(root: Step): string {
  for (const step of inputsFirst(root, steps)) {
    const inputs = step.inputs.map((input) => `${steps.get(input.step)}.${input.lane}`);
    steps.set(step, shortFor(`${step.op}|${step.data?.key ?? ""}|${inputs.join(",")}`));
  }
  return steps.get(root) as string;
}

/** A short stand-in, so that keys do not grow along a chain. */
function shortFor(key: string): string {
  let short = known.get(key);
  if (!short) {
    if (known.size >= MOST) known.clear();
    known.set(key, (short = `s${counter++}`));
  }
  return short;
}
