/** The one rule for what counts as within a distance: all that is no further, with a slack for what float32 places can hold. */
import { rangeOf } from "../kernels/statistics";

/** Of the distance itself, and of the greatest coordinate: two steps of float32 there. */
const OF_DISTANCE = 1e-6;
const OF_PLACE = 2 ** -22;

/** By how much two that should be just so far apart may be found nearer or further, units. @param places x, y, z */
export function slackOf(distance: number, places: readonly ArrayLike<number>[]): number {
  const furthest = Math.max(
    ...places.map((lane) => {
      const range = rangeOf(lane);
      return range ? Math.max(Math.abs(range.min), Math.abs(range.max)) : 0;
    }),
  );
  return distance * OF_DISTANCE + furthest * OF_PLACE;
}

/** What is no further away than this is within the distance. @param places all that are measured, x, y, z of each kind */
export const reachOf = (distance: number, ...places: readonly (readonly ArrayLike<number>[])[]): number =>
  distance + slackOf(distance, places.flat());
