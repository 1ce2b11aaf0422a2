/** Points x y, x y … without those that repeat the one before; a closed outline has its beginning once. */
export function withoutRepeats(points: readonly number[], closed: boolean): number[] {
  const kept: number[] = [];
  for (let i = 0; i < points.length; i += 2)
    if (i === 0 || points[i] !== points[i - 2] || points[i + 1] !== points[i - 1])
      kept.push(points[i], points[i + 1]);
  const isBack = kept.length > 2 && kept[0] === kept.at(-2) && kept[1] === kept.at(-1);
  return closed && isBack ? kept.slice(0, -2) : kept;
}
