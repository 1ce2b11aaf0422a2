/** Solids cut off at a plane, and closed there. */
import type { Mesh } from "../geometry/mesh";
import type { Vec3 } from "../maths/vector";
import { carryingOf, manifold, meshOfSolid, solidOfMesh, withSides, withSolids } from "./solid";

/** What lies on the side that the plane faces, in triangles; faces have `side`: 1 on the cut, 0 elsewhere. */
export function solidCut(mesh: Mesh, normal: Vec3, offset: number): Mesh {
  const carrying = carryingOf([mesh]);
  const id = manifold().Manifold.reserveIDs(1);
  return withSolids((own) => {
    const whole = own(solidOfMesh(mesh, carrying, id));
    const made = own(whole.trimByPlane(normal, offset));
    const cut = meshOfSolid(made, { carrying, meshes: new Map([[id, mesh]]) });
    return withSides(cut, (original) => (original === id ? 0 : 1));
  });
}
