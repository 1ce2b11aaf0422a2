/** Whether a place lies in a closed outline, by the even-odd rule. */
export function isInside(
  outline: readonly (readonly [number, number])[],
  [x, y]: readonly [number, number],
): boolean {
  let inside = false;
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const [xi, yi] = outline[i];
    const [xj, yj] = outline[j];
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
  }
  return inside;
}
