/** What is known of pairs of points by their points, and of points by their pairs. */
import { PointGrid } from "../spatial/point-grid";
import type { Ties } from "./constraints";
import { strainsOf } from "./soft-body";

/** Each free point with the pinned one that is nearest to it as it arrives, and how far that is (T. Kim et al., "Long range attachments", 2012). */
export function tiesToPins(
  places: readonly ArrayLike<number>[],
  pin: Float32Array,
): { pairs: Int32Array; lengths: Float32Array } | null {
  const [pinned, free]: number[][] = [[], []];
  for (const [p, led] of pin.entries()) (led >= 0.5 ? pinned : free).push(p);
  if (pinned.length === 0 || free.length === 0) return null;
  const at = (points: readonly number[]) => places.map((lane) => Float32Array.from(points, (p) => lane[p]));
  const { numbers, distances } = new PointGrid(at(pinned)).nearest(at(free));
  return { pairs: Int32Array.from(free.flatMap((p, n) => [p, pinned[numbers[n]]])), lengths: distances };
}

/** Of each pair the mean of what its two points have. */
export function meanOfPairs(values: Float32Array, pairs: Int32Array): Float32Array {
  const means = new Float32Array(pairs.length / 2);
  for (let e = 0; e < means.length; e++) means[e] = (values[pairs[e * 2]] + values[pairs[e * 2 + 1]]) / 2;
  return means;
}

/** Of each point the mean strain of the pairs that meet there. */
export function strainOfPoints(
  rest: Float32Array,
  position: readonly ArrayLike<number>[],
  { stretch }: Ties,
  count: number,
): Float32Array {
  const [sum, met] = [new Float32Array(count), new Float32Array(count)];
  const strains = strainsOf(rest, position, stretch);
  for (let e = 0; e < strains.length; e++)
    for (const p of [stretch[e * 2], stretch[e * 2 + 1]]) {
      sum[p] += strains[e];
      met[p]++;
    }
  return sum.map((v, p) => (met[p] > 0 ? v / met[p] : 0));
}
