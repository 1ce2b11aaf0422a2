/** Solids cut off at a plane, and closed there. */
import { makeColumn, withColumns } from "../geometry/column";
import type { Mesh } from "../geometry/mesh";
import type { Vec3 } from "../maths/vector";
import { SIDE } from "../meshes/joined-faces";
import { carryingOf, manifold, meshOfSolid, solidOfMesh } from "./solid";

/** What lies on the side that the plane faces, in triangles; faces have `side`: 1 on the cut, 0 elsewhere. */
export function solidCut(mesh: Mesh, normal: Vec3, offset: number): Mesh {
  const carrying = carryingOf([mesh]);
  const id = manifold().Manifold.reserveIDs(1);
  const whole = solidOfMesh(mesh, carrying, id);
  const made = whole.trimByPlane(normal, offset);
  try {
    const { mesh: cut, originals } = meshOfSolid(made, { carrying, meshes: new Map([[id, mesh]]) });
    const side = makeColumn("number", [
      Float32Array.from(originals, (original) => (original === id ? 0 : 1)),
    ]);
    return { ...cut, faces: withColumns(cut.faces, { [SIDE]: side }) };
  } finally {
    whole.delete();
    made.delete();
  }
}
