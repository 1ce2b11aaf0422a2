/** What two solids are together. */
import type { Mesh } from "../geometry/mesh";
import type { Manifold } from "./manifold";
import { carryingOf, manifold, meshOfSolid, solidOfMesh, withSides, withSolids } from "./solid";

export const SOLID_BOOLEANS = ["union", "difference", "intersection"] as const;
export type SolidBoolean = (typeof SOLID_BOOLEANS)[number];

const WORK: Readonly<Record<SolidBoolean, (a: Manifold, b: Manifold) => Manifold>> = {
  union: (a, b) => a.add(b),
  difference: (a, b) => a.subtract(b),
  intersection: (a, b) => a.intersect(b),
};

/** Triangles with what both carried; faces have `side`: 0 those of the first, 1 those of the other. Both must be solids. */
export function combinedSolids(first: Mesh, other: Mesh, how: SolidBoolean): Mesh {
  const carrying = carryingOf([first, other]);
  const id = manifold().Manifold.reserveIDs(2);
  const meshes = new Map([
    [id, first],
    [id + 1, other],
  ]);
  return withSolids((own) => {
    const a = own(solidOfMesh(first, carrying, id));
    const b = own(solidOfMesh(other, carrying, id + 1));
    const made = meshOfSolid(own(WORK[how](a, b)), { carrying, meshes });
    return withSides(made, (original) => original - id);
  });
}
