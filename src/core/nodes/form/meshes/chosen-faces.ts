/** Faces that a node works on, where a field says so. */
import { type NumberField, plainNumber } from "../../../fields/expression";
import { withKin } from "../../../geometry/across";
import type { Mesh } from "../../../geometry/mesh";
import type { NodeContext } from "../../define";

/** By face 1 where the field is above 0.5; undefined for all faces. */
export function chosenFaces(mesh: Mesh, where: NumberField, context: NodeContext): Uint8Array | undefined {
  const plain = plainNumber(where);
  if (plain !== null && plain > 0.5) return undefined;
  const [values] = context.run([where], withKin({ mesh }, "faces"));
  const chosen = Uint8Array.from(values, (value) => (value > 0.5 ? 1 : 0));
  return chosen.includes(0) ? chosen : undefined;
}
