/**
 * What glows, as a few lights: an approximation. Elements are cut into groups of as many each along their longest side, and each group shines from
 * where most of its light comes from, in all directions, through everything.
 */

import { extentOf, shapeBounds } from "../../geometry/bounds";
import { placesOf } from "../../geometry/domains";
import type { Shape } from "../../geometry/shape";
import type { Vec3 } from "../../maths/vector";

/** How often elements are cut in half: 16 lights. */
const HALVES = 4;
/** More elements are asked for evenly among them. */
const MOST_ASKED = 20_000;
/** Units from the middle to the edge of what has no extent of its own. */
const DOT = 0.03;

export interface Glow {
  readonly place: Vec3;
  /** Linear: what it sends in a direction, in units of radiance times units squared. */
  readonly intensity: Vec3;
}

/** Of elements with `emission` above 0; none where nothing glows. */
export function gatherGlow(shape: Shape): Glow[] {
  const elements = placesOf(shape);
  const emission = elements?.columns.emission?.lanes[0];
  if (!elements || !emission) return [];
  const { position, color, scale, source } = elements.columns;
  const [x, y, z] = position.lanes;
  const stride = Math.max(1, elements.count / MOST_ASKED);
  const asked = Array.from({ length: Math.ceil(elements.count / stride) }, (_, k) => Math.floor(k * stride));
  const glowing = Int32Array.from(asked.filter((i) => emission[i] > 0));
  if (glowing.length === 0) return [];
  const halves = (shape.sources ?? []).map((source) => {
    const bounds = shapeBounds(source);
    return bounds ? extentOf(bounds).half : [DOT, DOT, DOT];
  });
  const area = (i: number): number => {
    const own = halves[source?.lanes[0][i] ?? -1] ?? [DOT, DOT, DOT];
    const [a, b, c] = own.map((v, axis) => v * Math.abs(scale?.lanes[axis][i] ?? 1));
    // Seen from all sides an ellipsoid is about as large as a disc of the mean of these (exact for balls).
    return (Math.PI * (a * b + b * c + c * a)) / 3;
  };
  const glows: Glow[] = [];
  const cut = (group: Int32Array, halvings: number): void => {
    if (halvings > 0 && group.length > 1) {
      const lane = [x, y, z].reduce((widest, one) =>
        spread(one, group) > spread(widest, group) ? one : widest,
      );
      group.sort((i, j) => lane[i] - lane[j] || i - j);
      cut(group.subarray(0, group.length >> 1), halvings - 1);
      cut(group.subarray(group.length >> 1), halvings - 1);
      return;
    }
    const intensity = [0, 0, 0];
    const place = [0, 0, 0];
    let whole = 0;
    for (const i of group) {
      const power = emission[i] * area(i) * stride;
      for (const c of [0, 1, 2]) intensity[c] += power * (color?.lanes[c][i] ?? 1);
      for (const a of [0, 1, 2]) place[a] += power * position.lanes[a][i];
      whole += power;
    }
    if (whole > 0)
      glows.push({
        place: place.map((v) => v / whole) as unknown as Vec3,
        intensity: intensity as unknown as Vec3,
      });
  };
  cut(glowing, HALVES);
  return glows;
}

function spread(lane: ArrayLike<number>, group: Int32Array): number {
  let [least, most] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const i of group) {
    least = Math.min(least, lane[i]);
    most = Math.max(most, lane[i]);
  }
  return most - least;
}
