/** The number brought inside limits; a missing limit does not bound. */
export const clip = (value: number, min = Number.NEGATIVE_INFINITY, max = Number.POSITIVE_INFINITY): number =>
  Math.min(max, Math.max(min, value));
