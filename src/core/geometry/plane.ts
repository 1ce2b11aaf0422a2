/** The plane that curves lie in, or nearly; outlines in a plane, and curves of them. */
import { cross, normalise, type Vec3 } from "../maths/vector";
import { type CurveParts, type Curves, makeCurves } from "./curves";
import type { Outline } from "./outlines";

export interface Plane {
  readonly origin: Vec3;
  /** Unit, at right angles to each other; `normal` is their cross product. */
  readonly right: Vec3;
  readonly up: Vec3;
  readonly normal: Vec3;
}

/**
 * Through the middle of all points, its normal by what the curves enclose (M. E. Newell's area vector), closed by straight lines where
 * they are open. It looks up where it lies, else to the front; to the front as well where nothing is enclosed.
 */
export function planeOf({ points, curveStarts }: Curves): Plane {
  const [x, y, z] = points.columns.position.lanes;
  const sum: [number, number, number] = [0, 0, 0];
  const origin: [number, number, number] = [0, 0, 0];
  for (let c = 0; c + 1 < curveStarts.length; c++) {
    const [first, end] = [curveStarts[c], curveStarts[c + 1]];
    const own: [number, number, number] = [0, 0, 0];
    for (let i = first; i < end; i++) {
      const j = i + 1 < end ? i + 1 : first;
      own[0] += (y[i] - y[j]) * (z[i] + z[j]);
      own[1] += (z[i] - z[j]) * (x[i] + x[j]);
      own[2] += (x[i] - x[j]) * (y[i] + y[j]);
      for (const [a, lane] of [x, y, z].entries()) origin[a] += lane[i] / points.count;
    }
    // A hole runs the other way round, and lies in the same plane.
    const sign = own[0] * sum[0] + own[1] * sum[1] + own[2] * sum[2] < 0 ? -1 : 1;
    for (let a = 0; a < 3; a++) sum[a] += sign * own[a];
  }
  const normal = facing(normalise(sum));
  // The longest way within the plane that is level.
  const right = normalise(Math.abs(normal[1]) > LYING ? cross(normal, [0, 0, -1]) : cross([0, 1, 0], normal));
  return { origin, right, up: cross(normal, right), normal };
}

/** Upright, facing z. */
export const XY_PLANE: Plane = { origin: [0, 0, 0], right: [1, 0, 0], up: [0, 1, 0], normal: [0, 0, 1] };

/** From here on a plane counts as lying. */
const LYING = 0.7;

function facing(normal: Vec3): Vec3 {
  if (normal.every((part) => part === 0)) return [0, 0, 1];
  const towards = Math.abs(normal[1]) > LYING ? normal[1] : normal[2] || normal[0];
  return towards < 0 ? [-normal[0], -normal[1], -normal[2]] : normal;
}

/** Where points lie in a plane, x y of each, and the greatest distance of one from it. */
export function flatPlaces(
  { origin, right, up, normal }: Plane,
  lanes: readonly ArrayLike<number>[],
  from: number,
  end: number,
): { readonly flat: number[]; readonly off: number } {
  const flat: number[] = [];
  let off = 0;
  for (let i = from; i < end; i++) {
    const [x, y, z] = [lanes[0][i] - origin[0], lanes[1][i] - origin[1], lanes[2][i] - origin[2]];
    flat.push(x * right[0] + y * right[1] + z * right[2], x * up[0] + y * up[1] + z * up[2]);
    off = Math.max(off, Math.abs(x * normal[0] + y * normal[1] + z * normal[2]));
  }
  return { flat, off };
}

/** Closed curves of outlines in a plane. */
export function curvesInPlane({ origin, right, up }: Plane, outlines: readonly Outline[]): Curves {
  const curveStarts = new Int32Array(outlines.length + 1);
  for (const [i, outline] of outlines.entries()) curveStarts[i + 1] = curveStarts[i] + outline.length / 2;
  const flat = outlines.flat();
  const lane = (a: 0 | 1 | 2) =>
    Float32Array.from(
      { length: flat.length / 2 },
      (_, i) => origin[a] + right[a] * flat[i * 2] + up[a] * flat[i * 2 + 1],
    );
  const position: CurveParts["position"] = [lane(0), lane(1), lane(2)];
  return makeCurves({ position, curveStarts, closed: new Int32Array(outlines.length).fill(1) });
}
