/** Angles at points as sweeps take them. */

/** Radians as degrees; undefined where nothing turns. */
export const degrees = (turn: Float32Array): Float32Array | undefined =>
  turn.some((angle) => angle !== 0) ? turn.map((angle) => (angle * 180) / Math.PI) : undefined;
