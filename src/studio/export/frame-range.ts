/** Ranges of frames that are taken away, and what their files are called. */

export interface FrameRange {
  readonly first: number;
  readonly last: number;
  /** Every so many frames; 1 and more. */
  readonly step: number;
}

/** The frames of a range, both ends included where the step meets them. */
export const framesOf = ({ first, last, step }: FrameRange): number[] => {
  const by = Math.max(1, Math.round(step));
  return Array.from({ length: Math.max(0, Math.floor((last - first) / by) + 1) }, (_, i) => first + i * by);
};

/** A range of so many frames at most, evenly apart. */
export const spreadOver = ({ first, last }: Omit<FrameRange, "step">, most: number): FrameRange => ({
  first,
  last,
  step: Math.max(1, Math.ceil((last - first) / most)),
});

/** Frame numbers with as many digits, so that files come in order; a sign goes before. */
export function frameText(frame: number, all: readonly number[]): string {
  const digits = Math.max(4, ...all.map((f) => String(Math.abs(f)).length));
  return `${frame < 0 ? "-" : ""}${String(Math.abs(frame)).padStart(digits, "0")}`;
}
