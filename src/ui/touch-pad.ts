/** Telling fingers on a touch-pad from a mouse's wheel. Common practice, no source: browsers do not say which it was. */

/** Pixels of one notch of a wheel, at least. */
const NOTCH = 50;

/** Two fingers that slide: small or sideways steps in pixels. Pinching comes with Ctrl held down and is no sliding. */
export function isSliding(
  event: Pick<WheelEvent, "deltaMode" | "deltaX" | "deltaY" | "ctrlKey" | "shiftKey">,
) {
  if (event.ctrlKey || event.deltaMode !== 0) return false;
  if (event.deltaX !== 0 && !event.shiftKey) return true;
  return Math.abs(event.deltaY) < NOTCH;
}
