/**
 * Outputs of a node as text, for another thread that works in the same memory: lanes by their addresses, and whatever is
 * one of the inputs by its number there, so that it stays the very same object.
 */
import type { Lane } from "../geometry/column";
import { addressOf, floatsInMemory, integersInMemory } from "../kernels/arena";
import { type LaneMark, treeFromText, treeToText } from "../values/tree-text";

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

interface InputAsText {
  readonly input: number;
}

/** Lanes that stand elsewhere are copied into the current arena. */
export function outputsToText(outputs: unknown, inputs: unknown): string {
  const numbers = new Map(objectsIn(inputs).map((object, i) => [object, i]));
  return treeToText(outputs, placed, (object) => {
    const input = numbers.get(object);
    return input === undefined ? undefined : ({ input } satisfies InputAsText);
  });
}

/** The address of a lane in the memory. */
function placed(lane: Lane): number {
  const address = addressOf(lane);
  if (address !== null) return address;
  const copy = lane instanceof Float32Array ? floatsInMemory(lane.length) : integersInMemory(lane.length);
  copy.set(lane);
  return copy.byteOffset;
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
  const laneAt = ({ lane: kind, at, count }: LaneMark): Lane => {
    let lane = lanes.get(at);
    if (!lane) {
      lane = kind === "float" ? new Float32Array(buffer, at, count) : new Int32Array(buffer, at, count);
      lanes.set(at, lane);
      made(lane);
    }
    return lane;
  };
  return treeFromText(text, laneAt, (object) =>
    "input" in object ? objects[(object as InputAsText).input] : object,
  );
}
