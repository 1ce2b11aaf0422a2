/** Text set along a curve: each piece stands on it, upright or off the plane that the curve lies in. */
import { AlongCurves } from "../curves/along-curves";
import type { Curves } from "../geometry/curves";
import { planeOf } from "../geometry/plane";
import { fromBasis, IDENTITY, type Quaternion } from "../maths/quaternion";
import { cross, minus, normalise, type Vec3 } from "../maths/vector";

export const STANDS = ["off the path", "upright"] as const;

export interface Placed {
  readonly at: Vec3;
  readonly turn: Quaternion;
}

/**
 * @param pieces where they are on a straight line, units; x = 0 comes to the part `start` of the first curve's length. What has no
 * room goes straight on beyond the ends of an open one.
 */
export function placeAlong(
  pieces: readonly { readonly x: number; readonly y: number }[],
  curves: Curves,
  start: number,
  stand: (typeof STANDS)[number],
): readonly Placed[] {
  const along = new AlongCurves(curves);
  const [x, y, z] = curves.points.columns.position.lanes;
  const length = along.lengths[0];
  const facing = planeOf(curves).normal;
  const from = (p: number): Vec3 => [x[p], y[p], z[p]];
  return pieces.map((piece) => {
    const wanted = length > 0 ? start + piece.x / length : 0;
    const { p, q, t } = along.at(0, wanted);
    const [a, b] = [from(p), from(q)];
    const direction = normalise(p === q ? minus(b, from(Math.max(0, p - 1))) : minus(b, a));
    const beyond = along.isRound(0) ? 0 : (wanted - Math.min(1, Math.max(0, wanted))) * length;
    const [right, up, front] = basisOf(direction, facing, stand);
    const at = [0, 1, 2].map((k) => a[k] + (b[k] - a[k]) * t + direction[k] * beyond + up[k] * piece.y);
    return { at: at as unknown as Vec3, turn: length > 0 ? fromBasis(right, up, front) : IDENTITY };
  });
}

const UP: Vec3 = [0, 1, 0];

function basisOf(direction: Vec3, facing: Vec3, stand: (typeof STANDS)[number]): readonly [Vec3, Vec3, Vec3] {
  if (stand === "off the path") {
    const up = normalise(cross(facing, direction));
    return [direction, up, cross(direction, up)];
  }
  const level = normalise([direction[0], 0, direction[2]]);
  const right: Vec3 = level.every((part) => part === 0) ? [1, 0, 0] : level;
  return [right, UP, cross(right, UP)];
}
