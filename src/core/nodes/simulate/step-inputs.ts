/** Inputs of everything that is stepped from frame to frame. */
import type { Lane } from "../../geometry/column";
import { placesOf } from "../../geometry/domains";
import type { Shape } from "../../geometry/shape";
import { integer } from "../ports";

export const substepsInput = (about: string) =>
  integer({ default: 1, min: 1, max: 64, soft: [1, 8], label: "sub-steps", about });

export const runUpInput = (about: string) =>
  integer({ default: 0, min: 0, max: 10_000, soft: [0, 100], unit: "frames", label: "run-up", about });

/** Where something begins to grow: x, y and z of what arrives; the middle of the stage without any. */
export function beginningsOf(shape: Shape): readonly (Lane | readonly number[])[] {
  const places = placesOf(shape);
  return places && places.count > 0 ? places.columns.position.lanes : [[0], [0], [0]];
}
