/** Shapes as nodes make them, checked to be sound, for tests. */
import type { Mesh } from "../src/core/geometry/mesh";
import type { Shape } from "../src/core/geometry/shape";
import { validateShape } from "../src/core/geometry/validate";
import type { Setting } from "../src/core/nodes/ports";
import { graphOf, type NodeSpec, outputsOf } from "./run-node";

/** What the node `it` gives at its first output, from nodes and links `from.port>to.port`. */
export function formed(nodes: Record<string, NodeSpec>, links: readonly string[], output = "shape"): Shape {
  const shape = outputsOf(graphOf(nodes, links), "it")[output] as Shape;
  expect(validateShape(shape)).toEqual([]);
  return shape;
}

/** The shape of one node put through another. */
export const through = (from: NodeSpec, type: string, set: Record<string, Setting> = {}): Shape =>
  formed({ from, it: { type, set } }, ["from.shape>it.shape"]);

export function meshIn(shape: Shape): Mesh {
  if (!shape.mesh) throw new Error("There is no mesh.");
  return shape.mesh;
}

/** Places of a mesh's points. */
export function pointsIn({ points }: Pick<Mesh, "points">): number[][] {
  const { lanes } = points.columns.position;
  return Array.from({ length: points.count }, (_, p) => lanes.map((lane) => lane[p]));
}

/** How many points, edges and faces. */
export const faceSizes = ({ faceStarts, faces }: Mesh): number[] =>
  Array.from({ length: faces.count }, (_, f) => faceStarts[f + 1] - faceStarts[f]);
