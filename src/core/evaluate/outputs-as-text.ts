/**
 * Outputs of a node as text, for another thread that works in the same memory: lanes by their addresses, fields step by step, and
 * whatever is one of the inputs by its number there, so that it stays the very same object.
 */
import { inputsFirst, isValue, type Step, type Value } from "../fields/expression";
import type { Lane } from "../geometry/column";
import { addressOf, floatsInMemory, integersInMemory } from "../kernels/arena";
import { type LaneMark, treeFromText, treeToText } from "../values/tree-text";

/** All objects that hang together with the inputs, in an order that a copy of them has too. */
export function objectsIn(inputs: unknown): object[] {
  const found = new Set<object>();
  const stack: unknown[] = [inputs];
  while (stack.length > 0) {
    const value = stack.pop();
    if (typeof value !== "object" || value === null || found.has(value)) continue;
    found.add(value);
    if (!ArrayBuffer.isView(value)) stack.push(...Object.values(value));
  }
  return [...found];
}

/** What stands for an object that JSON would not bring back as it was. */
type Reference =
  /** One of the inputs' objects, by its number. */
  | { readonly input: number }
  /** A field, by the number of a step that was written before it. */
  | { readonly made: number; readonly component: number }
  /** A field of a step that is an input's. */
  | { readonly arrived: number; readonly component: number }
  /** A rotation that remembers its angles. */
  | { readonly rotation: readonly unknown[]; readonly angles: unknown };

/** Steps first, each after those that it needs, then what they are used in. */
interface Texts {
  readonly steps: readonly string[];
  readonly outputs: string;
}

/** Lanes that stand elsewhere are copied into the current arena. @throws Error when something in them cannot cross */
export function outputsToText(outputs: unknown, inputs: unknown): string {
  const arrived = new Map(objectsIn(inputs).map((object, i) => [object, i]));
  const made = new Map<Step, number>();
  const isDone = { has: (step: Step) => made.has(step) || arrived.has(step) };
  const refer = (object: object): Reference | undefined => {
    const input = arrived.get(object);
    if (input !== undefined) return { input };
    if (isField(object)) {
      const { step, lane: component } = object;
      const known = arrived.get(step);
      return known === undefined
        ? { made: made.get(step) as number, component }
        : { arrived: known, component };
    }
    if (Array.isArray(object) && "angles" in object) return { rotation: [...object], angles: object.angles };
    return undefined;
  };
  const placed = placing();
  const steps: string[] = [];
  for (const value of valuesIn(outputs, arrived)) {
    if (isDone.has(value.step)) continue;
    for (const step of inputsFirst(value.step, isDone)) {
      // What a step reads while it runs stays in the memory; tables that it brings along are its own.
      const held = new Set(step.data?.lanes);
      steps.push(treeToText(step, (lane) => (held.has(lane) ? placed(lane) : null), refer));
      made.set(step, made.size);
    }
  }
  return JSON.stringify({ steps, outputs: treeToText(outputs, placed, refer) } satisfies Texts);
}

/** Attributes may have any name, those of a field's parts too; but then they are columns, not numbers. */
const isField = (object: object): object is Value => isValue(object) && typeof object.lane === "number";

/** All fields of a tree that are not among the inputs. */
function* valuesIn(tree: unknown, arrived: ReadonlyMap<object, number>): Generator<Value> {
  if (typeof tree !== "object" || tree === null || ArrayBuffer.isView(tree) || arrived.has(tree)) return;
  if (isField(tree)) yield tree;
  else for (const part of Object.values(tree)) yield* valuesIn(part, arrived);
}

/** Gives the addresses of lanes in the memory; one that stands elsewhere is copied there once. */
function placing(): (lane: Lane) => number {
  const copies = new Map<Lane, number>();
  return (lane) => {
    const known = addressOf(lane) ?? copies.get(lane);
    if (known !== undefined) return known;
    const copy = lane instanceof Float32Array ? floatsInMemory(lane.length) : integersInMemory(lane.length);
    copy.set(lane);
    copies.set(lane, copy.byteOffset);
    return copy.byteOffset;
  };
}

/** @param made called with every lane that is not an input's */
export function outputsFromText(
  text: string,
  inputs: unknown,
  buffer: ArrayBufferLike,
  made: (lane: Lane) => void,
): unknown {
  const arrived = objectsIn(inputs);
  const lanes = new Map<number, Lane>();
  const laneAt = ({ lane: kind, at, count }: LaneMark): Lane => {
    let lane = lanes.get(at);
    if (!lane) {
      lane = kind === "float" ? new Float32Array(buffer, at, count) : new Int32Array(buffer, at, count);
      lanes.set(at, lane);
      made(lane);
    }
    return lane;
  };
  const steps: Step[] = [];
  const resolve = (object: object): unknown => {
    const reference = object as Reference;
    if ("input" in reference) return arrived[reference.input];
    if ("rotation" in reference) return Object.assign(reference.rotation, { angles: reference.angles });
    const step = "made" in reference ? steps[reference.made] : arrived[reference.arrived];
    return { step, lane: reference.component };
  };
  const texts = JSON.parse(text) as Texts;
  for (const step of texts.steps) steps.push(treeFromText(step, laneAt, resolve) as Step);
  return treeFromText(texts.outputs, laneAt, resolve);
}
