/** Which elements an adjusting node changes: the sites of a shape, else the points of its mesh, else of its curves. */
import {
  applyAll,
  column,
  constant,
  type RotationField,
  type Value,
  type VectorField,
} from "../../fields/expression";
import { type ColumnKind, type Columns, type Domain, makeColumn, withColumns } from "../../geometry/column";
import { withPoints } from "../../geometry/mesh";
import type { Shape } from "../../geometry/shape";
import type { NodeContext } from "../define";

export interface Elements {
  readonly on: "sites" | "points" | "curve points";
  readonly domain: Domain;
}

/** Warns and returns null when there is nothing to change. */
export function elementsOf(shape: Shape, context: NodeContext, input = "shape"): Elements | null {
  if (shape.sites && shape.sites.count > 0) return { on: "sites", domain: shape.sites };
  if (shape.mesh && shape.mesh.points.count > 0) return { on: "points", domain: shape.mesh.points };
  if (shape.curves && shape.curves.points.count > 0)
    return { on: "curve points", domain: shape.curves.points };
  context.warn("Nothing arrives, so there is nothing to change.", { input });
  return null;
}

export function withElements(shape: Shape, elements: Elements, columns: Columns): Shape {
  const changed = withColumns(elements.domain, columns);
  if (elements.on === "sites") return { ...shape, sites: changed };
  if (elements.on === "curve points" && shape.curves)
    return { ...shape, curves: { ...shape.curves, points: changed } };
  return shape.mesh ? { ...shape, mesh: withPoints(shape.mesh, changed) } : shape;
}

/** Runs the values over the elements and makes them a column. */
export const runColumn = (
  kind: ColumnKind,
  values: readonly Value[],
  elements: Elements,
  context: NodeContext,
) => makeColumn(kind, context.run(values, elements.domain));

export const ownRotation = (): RotationField => [
  column("rotation", 0),
  column("rotation", 1),
  column("rotation", 2),
  column("rotation", 3, 1),
];

export const ownScale = (): VectorField => [
  column("scale", 0, 1),
  column("scale", 1, 1),
  column("scale", 2, 1),
];

/** Site rotation, or none for mesh points. */
export const frameRotation = (elements: Elements): RotationField =>
  elements.on === "sites" ? ownRotation() : [constant(0), constant(0), constant(0), constant(1)];

export const turned = (rotation: RotationField, vector: VectorField): VectorField =>
  applyAll("rotateVector", [...rotation, ...vector]) as unknown as VectorField;

export const composed = (a: RotationField, b: RotationField): RotationField =>
  applyAll("multiplyRotations", [...a, ...b]) as unknown as RotationField;
