/** Nodes that can only work with closed meshes. */
import type { Mesh } from "../../../geometry/mesh";
import { faultOf } from "../../../solids/solid";
import { NodeError } from "../../define";

/** @throws NodeError with what to do about it */
export function mustBeSolid(mesh: Mesh, what: string, input: string): void {
  const fault = faultOf(mesh);
  if (fault) throw new NodeError(`${what} ${fault}`, input);
}
