/** A place on a Bézier curve of any degree, from its control points x y, x y, … (P. de Casteljau, 1959). */
export function bezierAt(points: readonly number[], t: number): [number, number] {
  let level = points;
  while (level.length > 2) level = level.slice(0, -2).map((v, i) => v + (level[i + 2] - v) * t);
  return [level[0], level[1]];
}
