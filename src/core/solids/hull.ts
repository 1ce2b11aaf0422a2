/** The least convex solid around points. */

import { tick } from "../cancelling";
import { EMPTY_SHAPE, type Shape } from "../geometry/shape";
import { carryingOf, manifold, meshOfSolid, withSolids } from "./solid";

/** Empty for points that lie in one plane. @param lanes x, y and z of the points */
export function hullOf(lanes: readonly ArrayLike<number>[]): Shape {
  const [x, y, z] = lanes;
  const points = Array.from(x, (_, p): [number, number, number] => {
    tick();
    return [x[p], y[p], z[p]];
  });
  if (points.length < 4) return EMPTY_SHAPE;
  return withSolids((own) => {
    const solid = own(manifold().Manifold.hull(points));
    if (solid.isEmpty() || solid.volume() <= 0) return EMPTY_SHAPE;
    return { mesh: meshOfSolid(solid, { carrying: carryingOf([]), meshes: new Map() }).mesh };
  });
}
