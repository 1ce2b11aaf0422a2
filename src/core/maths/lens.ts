/** Lenses and angles of view (any handbook of photography): an image of a width at a focal length sees 2 arctan(width ÷ 2 f). */
import { arcTangent2, tangent } from "./exact";

/** Radians across an image. @param focal, width in the same unit, as millimetres */
export const angleOfView = (focal: number, width: number): number => 2 * arcTangent2(width / 2, focal);

/** Millimetres across what a film or sensor of the usual size gives (135 film, common practice, no source). */
export const FULL_FRAME = 36;

/** The focal length, in the unit of the width, at which an image sees so many radians across: angleOfView the other way round. */
export const focalOf = (angle: number, width: number): number => width / 2 / tangent(angle / 2);

/**
 * Radians from the lower edge of what is shown to its upper one, so that all of the picture that a lens gives is seen in it.
 * @param picture its width to its height @param shown the same of where it is shown
 */
export function angleUpright(focal: number, width: number, picture: number, shown: number): number {
  const high = width / picture;
  // Where there is more room above and below than beside, the width of the picture fills it.
  return angleOfView(focal, shown >= picture ? high : width / shown);
}

/**
 * Half of the way across the lens that blurs what is not in focus as much as a thin lens does, seen from its middle: the diameter focal ÷
 * f-number, and a little more, as focusing nearer moves a lens away from its film. What lies at `d` then is a disc of
 * f² ÷ (N (s − f)) · |d − s| ÷ d across on the film (any handbook of photography).
 * @param focal, distance in the same unit @param distance s, of what is sharp, beyond the focal length
 */
export const lensRadius = (focal: number, fNumber: number, distance: number): number =>
  ((focal / fNumber / 2) * distance) / (distance - focal);
