/** Which own axis of a clone points out, shared by round layouts. */
import { type AxisName, IDENTITY, pointing, type Quaternion } from "../../maths/quaternion";
import type { Vec3 } from "../../maths/vector";

export const OUTWARD = ["none", "x", "y", "z"] as const;

/** The rotation that points the chosen axis along `outward`, the top kept near `up`; none keeps it unturned. */
export const outwardRotation = (axis: (typeof OUTWARD)[number], outward: Vec3, up: Vec3): Quaternion =>
  axis === "none" ? IDENTITY : pointing(axis as AxisName, outward, up);
