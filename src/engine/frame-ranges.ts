/** Sets of frames as runs, so that a long range crosses as a few numbers. */

/** First and last frame of each run. */
export type FrameRanges = readonly (readonly [first: number, last: number])[];

/** Parts of frames are left out. */
export function rangesOf(frames: Iterable<number>): FrameRanges {
  const sorted = [...frames].filter(Number.isInteger).sort((a, b) => a - b);
  const ranges: [number, number][] = [];
  for (const frame of sorted) {
    const run = ranges.at(-1);
    if (run && frame <= run[1] + 1) run[1] = frame;
    else ranges.push([frame, frame]);
  }
  return ranges;
}

export const isWithin = (ranges: FrameRanges, frame: number): boolean =>
  ranges.some(([first, last]) => first <= frame && frame <= last);

/** How many frames of a range there are. */
export const framesIn = (ranges: FrameRanges, from: number, to: number): number =>
  ranges.reduce((sum, [first, last]) => sum + Math.max(0, Math.min(last, to) - Math.max(first, from) + 1), 0);
