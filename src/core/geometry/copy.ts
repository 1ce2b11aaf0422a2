/** Copies of whole shapes. */
import { type Column, type Lane, makeIntegers, makeLanes } from "./column";
import { mapShape } from "./domains";
import type { Shape } from "./shape";

/** The same numbers in lanes of the current arena. */
export const copyOfShape = (shape: Shape): Shape => mapShape(shape, copyOfColumn, copyOfIntegers);

function copyOfIntegers(from: Int32Array): Int32Array {
  const copy = makeIntegers(from.length);
  copy.set(from);
  return copy;
}

function copyOfColumn({ kind, lanes }: Column): Column {
  const made: Lane[] = makeLanes(kind, lanes[0].length);
  made.forEach((lane, l) => {
    lane.set(lanes[l]);
  });
  return { kind, lanes: made };
}
