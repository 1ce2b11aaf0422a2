/** Copies of whole shapes. */

import { inMemory, wantsMemory } from "../kernels/arena";
import { type Column, type Lane, makeIntegers, makeLanes } from "./column";
import { domainsOf, mapShape } from "./domains";
import type { Shape } from "./shape";

/** The same numbers in lanes of the current arena. */
export const copyOfShape = (shape: Shape): Shape => mapShape(shape, copyOfColumn, copyOfIntegers);

/**
 * With its longer lanes where kernels of all threads read them as they are. For shapes that are made once and read at every frame: what stands
 * elsewhere is brought in block by block, each time, by one thread.
 */
export function forKernels(shape: Shape): Shape {
  if ([...columnsOf(shape)].every(({ lanes }) => lanes.every((lane) => !wantsMemory(lane)))) return shape;
  const copies = new Map<Lane, Lane>();
  // What columns share they go on sharing.
  const copyOf = (lane: Lane): Lane => {
    if (!wantsMemory(lane)) return lane;
    const copy = copies.get(lane) ?? inMemory(lane);
    copies.set(lane, copy);
    return copy;
  };
  return mapShape(
    shape,
    ({ kind, lanes }) => ({ kind, lanes: lanes.map(copyOf) }),
    (indices) => indices,
  );
}

function* columnsOf(shape: Shape): Generator<Column> {
  for (const [, { columns }] of domainsOf(shape)) yield* Object.values(columns);
  for (const source of shape.sources ?? []) yield* columnsOf(source);
}

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
