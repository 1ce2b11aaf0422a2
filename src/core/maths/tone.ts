/**
 * The colour that the neutral tone curve makes another one of, for what is to be seen as it was chosen: dark colours, whose least part it
 * presses together (Khronos PBR neutral tone mapper, 2024).
 */
export function beforeNeutral([r, g, b]: readonly number[]): [number, number, number] {
  const least = Math.max(0, Math.min(r, g, b));
  const offset = least < 0.04 ? Math.sqrt(least / 6.25) - least : 0.04;
  return [r + offset, g + offset, b + offset];
}
