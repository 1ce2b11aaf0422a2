/** Places around an outline of radius 1: evenly by angle on a circle, evenly along the sides of a polygon or star. */
import { cosine, sine } from "../../maths/exact";

export const OUTLINES = ["circle", "polygon", "star"] as const;
export type Outline = (typeof OUTLINES)[number];

/**
 * @param sides corners of a polygon or points of a star
 * @param inner radius of a star's inner corners
 * @param turn part of the whole way round; may pass 1
 */
export function outlineAt(
  outline: Outline,
  sides: number,
  inner: number,
  turn: number,
): readonly [number, number] {
  if (outline === "circle") return corner(1, turn);
  const corners = outline === "star" ? sides * 2 : sides;
  const walked = (turn - Math.floor(turn)) * corners;
  const side = Math.min(corners - 1, Math.floor(walked));
  const t = walked - side;
  const at = (i: number) => corner(outline === "star" && i % 2 === 1 ? inner : 1, i / corners);
  const [a, b] = [at(side), at(side + 1)];
  return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t];
}

const corner = (radius: number, turn: number): readonly [number, number] => [
  radius * cosine(turn * 2 * Math.PI),
  radius * sine(turn * 2 * Math.PI),
];
