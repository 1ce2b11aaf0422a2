/** Area by the shoelace formula, of points x y, x y …: below 0 where they run clockwise, as holes do. */
export function signedArea(outline: readonly number[]): number {
  let sum = 0;
  for (let i = 0; i < outline.length; i += 2) {
    const j = (i + 2) % outline.length;
    sum += outline[i] * outline[j + 1] - outline[j] * outline[i + 1];
  }
  return sum / 2;
}
