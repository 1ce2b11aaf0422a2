/** Closed curves as regions of the plane that they lie in, for nodes that fill them. */
import { type Curves, isClosedCurve } from "../../../geometry/curves";
import { type FillRuleName, type Outline, type Region, regionsOf } from "../../../geometry/outlines";
import { flatPlaces, type Plane, planeOf } from "../../../geometry/plane";
import { EMPTY_SHAPE, type Shape } from "../../../geometry/shape";
import { type Depth, solidOf } from "../../../geometry/solid-of-regions";
import { transformShape } from "../../../geometry/transform";
import { fromBasis } from "../../../maths/quaternion";
import type { NodeContext } from "../../define";

/** What the outlines are: each as it lies in their plane, and the number of its curve. */
export interface FlatOutlines {
  readonly plane: Plane;
  readonly outlines: readonly Outline[];
  readonly curves: readonly number[];
}

/** Part of the whole size by which outlines may leave their plane before it is told. */
const FLAT = 0.01;

/**
 * Null, with a warning, when there is nothing to fill; what is open is left out and told.
 * @param given the plane, where it is not their own
 */
export function flatOutlines(
  curves: Curves | undefined,
  context: NodeContext,
  input = "shape",
  given?: Plane,
): FlatOutlines | null {
  if (!curves || curves.points.count === 0) {
    context.warn("No curves arrive, so there is nothing to fill.", { input });
    return null;
  }
  const plane = given ?? planeOf(curves);
  const { lanes } = curves.points.columns.position;
  const outlines: Outline[] = [];
  const numbers: number[] = [];
  let [open, off, size] = [0, 0, 0];
  for (let c = 0; c < curves.curves.count; c++) {
    const [first, end] = [curves.curveStarts[c], curves.curveStarts[c + 1]];
    if (!isClosedCurve(curves, c) || end - first < 3) {
      open++;
      continue;
    }
    const found = flatPlaces(plane, lanes, first, end);
    off = Math.max(off, found.off);
    for (const v of found.flat) size = Math.max(size, Math.abs(v));
    outlines.push(found.flat);
    numbers.push(c);
  }
  if (open > 0)
    context.warn(
      `${open} of ${curves.curves.count} curves are open, or have fewer than three points, and are left out. Close them to fill them.`,
      { input },
    );
  if (off > FLAT * size)
    context.warn("The outlines do not lie in one plane; they are filled as they look from the front of it.", {
      input,
    });
  return outlines.length > 0 ? { plane, outlines, curves: numbers } : null;
}

/** Regions as a mesh where their outlines were. */
export function filledAt(
  { origin, right, up, normal }: Plane,
  regions: readonly Region[],
  depth: Depth,
): Shape {
  const mesh = solidOf(regions, depth);
  if (mesh.faces.count === 0) return EMPTY_SHAPE;
  return transformShape({ mesh }, { move: origin, turn: fromBasis(right, up, normal), scale: [1, 1, 1] });
}

/** Regions of outlines, told where the rule leaves nothing. */
export function filledRegions(
  { outlines }: Pick<FlatOutlines, "outlines">,
  rule: FillRuleName,
  context: NodeContext,
): Region[] {
  const regions = regionsOf(outlines, rule);
  if (regions.length === 0)
    context.warn("The outlines enclose nothing, so there is nothing to see.", { input: "shape" });
  return regions;
}
