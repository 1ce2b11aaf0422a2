/** What two solids are together. */
import { makeColumn, withColumns } from "../geometry/column";
import type { Mesh } from "../geometry/mesh";
import { SIDE } from "../meshes/joined-faces";
import type { Manifold } from "./manifold";
import { carryingOf, manifold, meshOfSolid, solidOfMesh } from "./solid";

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
  const a = solidOfMesh(first, carrying, id);
  const b = solidOfMesh(other, carrying, id + 1);
  const made = WORK[how](a, b);
  try {
    const meshes = new Map([
      [id, first],
      [id + 1, other],
    ]);
    const { mesh, originals } = meshOfSolid(made, { carrying, meshes });
    const side = makeColumn("number", [Float32Array.from(originals, (original) => original - id)]);
    return { ...mesh, faces: withColumns(mesh.faces, { [SIDE]: side }) };
  } finally {
    for (const solid of [a, b, made]) solid.delete();
  }
}
