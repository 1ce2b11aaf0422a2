/**
 * Outputs of a node as text, for another thread that works in the same memory: lanes by their addresses, and whatever is
 * one of the inputs by its number there, so that it stays the very same object.
 */
import type { Lane } from "../geometry/column";
import { addressOf, floatsInMemory, integersInMemory } from "../kernels/arena";

/** All objects that hang together with the inputs, in an order that a copy of them has too. */
export function objectsIn(inputs: unknown): object[] {
  const found = new Set<object>();
  const stack: unknown[] = [inputs];
  while (stack.length > 0) {
    const value = stack.pop();
    // Fields are left out: outputs of this kind do not hold any.
    if (typeof value !== "object" || value === null || found.has(value) || "step" in value) continue;
    found.add(value);
    if (!ArrayBuffer.isView(value)) stack.push(...Object.values(value));
  }
  return [...found];
}

interface LaneAsText {
  readonly lane: "float" | "integer";
  readonly at: number;
  readonly count: number;
}

interface InputAsText {
  readonly input: number;
}

/** Lanes that stand elsewhere are copied into the current arena. */
export function outputsToText(outputs: unknown, inputs: unknown): string {
  const numbers = new Map(objectsIn(inputs).map((object, i) => [object, i]));
  return JSON.stringify(outputs, (_key, value: unknown) => {
    if (typeof value !== "object" || value === null) return value;
    const input = numbers.get(value);
    if (input !== undefined) return { input } satisfies InputAsText;
    return ArrayBuffer.isView(value) ? laneToText(value as Lane) : value;
  });
}

function laneToText(lane: Lane): LaneAsText {
  const isFloat = lane instanceof Float32Array;
  let placed = lane;
  if (addressOf(lane) === null) {
    placed = isFloat ? floatsInMemory(lane.length) : integersInMemory(lane.length);
    placed.set(lane);
  }
  return { lane: isFloat ? "float" : "integer", at: placed.byteOffset, count: lane.length };
}

/** @param made called with every lane that is not an input's */
export function outputsFromText(
  text: string,
  inputs: unknown,
  buffer: ArrayBufferLike,
  made: (lane: Lane) => void,
): unknown {
  const objects = objectsIn(inputs);
  const lanes = new Map<number, Lane>();
  return JSON.parse(text, (_key, value: unknown) => {
    if (typeof value !== "object" || value === null) return value;
    if ("input" in value) return objects[(value as InputAsText).input];
    if (!("lane" in value)) return value;
    const { lane: kind, at, count } = value as LaneAsText;
    let lane = lanes.get(at);
    if (!lane) {
      lane = kind === "float" ? new Float32Array(buffer, at, count) : new Int32Array(buffer, at, count);
      lanes.set(at, lane);
      made(lane);
    }
    return lane;
  });
}
