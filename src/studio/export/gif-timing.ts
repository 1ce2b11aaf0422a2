/** When the frames of a GIF are shown: it counts in hundredths of a second, and players slow down what lasts less than two. */

/** Frames a second at most. */
export const GIF_RATE = 50;

/** Frames a second that a GIF of frames at this rate has. */
export const gifRate = (rate: number): number => Math.min(rate, GIF_RATE);

/** Of frames that come faster than a GIF can show them, those that stay: the first in each fiftieth of a second. */
export const gifFrames = <T>(frames: readonly T[], rate: number): T[] =>
  rate <= GIF_RATE
    ? [...frames]
    : frames.filter(
        (_, i) => i === 0 || Math.floor((i * GIF_RATE) / rate) > Math.floor(((i - 1) * GIF_RATE) / rate),
      );

/** Milliseconds that frame i is shown, in whole hundredths of a second: rounding never adds up. @param rate 50 at most */
export function gifDelay(i: number, rate: number): number {
  const until = (n: number) => Math.round((n * 100) / rate);
  return (until(i + 1) - until(i)) * 10;
}
