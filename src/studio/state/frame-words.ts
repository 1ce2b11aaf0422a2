/** What is told of frames that are worked out ahead. */
import { framesIn } from "@/engine/frame-ranges";
import type { FrameStates } from "@/engine/protocol";

export interface RangeWork {
  readonly done: number;
  readonly of: number;
  /** Guessed by what the frames so far took; null before the first. */
  readonly secondsLeft: number | null;
}

/** In words: "12 of 150 frames, about 8 s left". */
export function rangeWorkWords({ done, of, secondsLeft }: RangeWork): string {
  const left = secondsLeft === null ? "" : `, about ${Math.max(1, Math.round(secondsLeft))} s left`;
  return `${done} of ${of} frames${left}`;
}

/** What is known of the frames of a range, in words. */
export function frameStatesWords(states: FrameStates, first: number, last: number): string {
  const [ready, stale, disk] = [states.ready, states.stale, states.disk].map((ranges) =>
    framesIn(ranges, first, last),
  );
  const parts = [
    `${ready} of ${last - first + 1} frames are worked out`,
    stale > 0 ? `a change made ${stale} stale` : "",
    disk > 0 ? `${disk} can be gone on from after a reload` : "",
  ];
  return parts.filter(Boolean).join("; ") + (states.fault ? `. ${states.fault}` : "");
}
