/** The mesh that nodes which form meshes work on. */
import type { Mesh } from "../../../geometry/mesh";
import type { Shape } from "../../../geometry/shape";
import type { NodeContext } from "../../define";

/** Null, with a warning, when none arrives. @param to what cannot be done without one: "split" */
export function meshOf(
  { mesh, sites }: Shape,
  to: string,
  context: Pick<NodeContext, "warn">,
  input = "shape",
): Mesh | null {
  if (mesh && mesh.faces.count > 0) return mesh;
  context.warn(
    sites
      ? `Clones arrive, and no faces of their own to ${to}. Put "Bake clones" before it.`
      : `No faces arrive, so there is nothing to ${to}.`,
    { input },
  );
  return null;
}
