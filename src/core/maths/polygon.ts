/** Closed outlines in the plane: x y of each point, one after the other. */

/** Twice what it encloses, less than 0 when it runs clockwise with y upwards. */
export function twiceArea(flat: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0, j = flat.length - 2; i < flat.length; j = i, i += 2)
    sum += flat[j] * flat[i + 1] - flat[i] * flat[j + 1];
  return sum;
}

/** The other way round, from the last point on. */
export const reversed = (flat: ArrayLike<number>): number[] =>
  Array.from({ length: flat.length }, (_, i) => flat[flat.length - 2 - (i - (i & 1)) + (i & 1)]);

/** Whether a place lies in it, by the number of sides to the right: even and odd take turns where it crosses itself. */
export function isInside(flat: ArrayLike<number>, x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = flat.length - 2; i < flat.length; j = i, i += 2) {
    const [ax, ay, bx, by] = [flat[i], flat[i + 1], flat[j], flat[j + 1]];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}
