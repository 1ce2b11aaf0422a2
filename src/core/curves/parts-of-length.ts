/** How far along a row of places each is. */

/**
 * 0 … 1 by length; of a closed row its first place once more at the end. By their order where nothing has a length.
 * @param between distance from place i to place j
 */
export function partsOfLength(
  count: number,
  closed: boolean,
  between: (i: number, j: number) => number,
): Float64Array {
  const parts = new Float64Array(closed ? count + 1 : count);
  for (let i = 1; i < parts.length; i++) parts[i] = parts[i - 1] + between(i - 1, i % count);
  const whole = parts[parts.length - 1];
  return parts.map((part, i) => (whole > 0 ? part / whole : i / Math.max(1, parts.length - 1)));
}
