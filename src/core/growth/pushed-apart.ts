/** Points of what grows pushed away from each other. */
import { lengthOf } from "../maths/exact";
import { PointGrid } from "../spatial/point-grid";

/** Of what is missing between two: a point has several around it, whose pushes add up. */
const SHARE = 0.3;
/** Parts of how far they stand apart that a point is pushed at most, so that it never passes another part of what grows. */
const FARTHEST = 0.2;

/**
 * Works in the current arena.
 * @param places lanes in the kernels' memory, moved @param held 1 for points that stay @param apart units that two want between them
 * @param push how much of that one round makes up, from 0 to 1
 */
export function pushedApart(
  places: readonly Float32Array[],
  held: Float32Array,
  apart: number,
  push: number,
): void {
  if (!(push > 0 && apart > 0)) return;
  const from = places.map((lane) => Float32Array.from(lane));
  const room = new Float32Array(held.length).fill(apart / 2);
  new PointGrid(places).push(places, room, held, apart / 2, push * SHARE);
  const most = apart * FARTHEST;
  const [[x, y, z], [fx, fy, fz]] = [places, from];
  for (let p = 0; p < held.length; p++) {
    const [wx, wy, wz] = [x[p] - fx[p], y[p] - fy[p], z[p] - fz[p]];
    const long = lengthOf(wx, wy, wz);
    if (long <= most) continue;
    x[p] = fx[p] + (wx / long) * most;
    y[p] = fy[p] + (wy / long) * most;
    z[p] = fz[p] + (wz / long) * most;
  }
}
