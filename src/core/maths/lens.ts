/** Lenses and angles of view (any handbook of photography): an image of a width at a focal length sees 2 arctan(width ÷ 2 f). */
import { arcTangent2 } from "./exact";

/** Radians across an image. @param focal, width in the same unit, as millimetres */
export const angleOfView = (focal: number, width: number): number => 2 * arcTangent2(width / 2, focal);

/**
 * Radians from the lower edge of what is shown to its upper one, so that all of the picture that a lens gives is seen in it.
 * @param picture its width to its height @param shown the same of where it is shown
 */
export function angleUpright(focal: number, width: number, picture: number, shown: number): number {
  const high = width / picture;
  // Where there is more room above and below than beside, the width of the picture fills it.
  return angleOfView(focal, shown >= picture ? high : width / shown);
}
