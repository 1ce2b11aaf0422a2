/** Which elements an adjusting node changes: the sites of a shape, else the points of its mesh, else of its curves. */

import {
  applyAll,
  column,
  constant,
  plainNumbers,
  type RotationField,
  scaleBy,
  type Value,
  type VectorField,
} from "../../fields/expression";
import { type ColumnKind, type Columns, type Domain, makeColumn, withColumns } from "../../geometry/column";
import { withPoints } from "../../geometry/mesh";
import type { Shape } from "../../geometry/shape";
import { arcTangent2, lengthOf } from "../../maths/exact";
import type { NodeContext } from "../define";

export interface Elements {
  readonly on: "sites" | "points" | "curve points";
  readonly domain: Domain;
}

/** For looking at elements without a word about their missing. */
export const SILENTLY: Pick<NodeContext, "warn"> = { warn: () => {} };

/** Warns and returns null when there is nothing to change. */
export function elementsOf(
  shape: Shape,
  context: Pick<NodeContext, "warn">,
  input = "shape",
): Elements | null {
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

const NOT_TURNED: RotationField = [constant(0), constant(0), constant(0), constant(1)];

/** Site rotation, or none for mesh points. */
export const frameRotation = (elements: Elements): RotationField =>
  elements.on === "sites" ? ownRotation() : NOT_TURNED;

export const turned = (rotation: RotationField, vector: VectorField): VectorField =>
  applyAll("rotateVector", [...rotation, ...vector]) as unknown as VectorField;

export const composed = (a: RotationField, b: RotationField): RotationField =>
  applyAll("multiplyRotations", [...a, ...b]) as unknown as RotationField;

/** The part `amount` of a turn: the same axis, `amount` times the angle. */
export function partOf(turn: RotationField, amount: Value): RotationField {
  const plain = plainNumbers(turn);
  if (!plain) return applyAll("partOfRotation", [...turn, amount]) as unknown as RotationField;
  // One axis for all: what differs is an angle.
  const sine = lengthOf(plain[0], plain[1], plain[2]);
  if (sine < 1e-12) return NOT_TURNED;
  const half = arcTangent2(sine, Math.abs(plain[3]));
  const [s, c] = applyAll("sineCosine", [scaleBy(constant(half), amount)]);
  const along = (axis: number): Value => {
    const share = (plain[axis] / sine) * (plain[3] < 0 ? -1 : 1);
    return share === 0 ? constant(0) : scaleBy(constant(share), s);
  };
  return [along(0), along(1), along(2), c];
}
