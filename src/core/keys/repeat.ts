/** What a track does outside of its keys. */

/** "again from there" adds what one round changes, so that turning goes on. */
export const REPEATS = ["hold", "again", "again from there", "to and fro"] as const;
export type Repeat = (typeof REPEATS)[number];

export interface Folded {
  /** A frame between the first key and the last. */
  readonly frame: number;
  /** Rounds whose change is added. */
  readonly rounds: number;
}

/** The frame whose value is taken at `frame`, for keys from `first` to `last`. */
export function fold(frame: number, first: number, last: number, before: Repeat, after: Repeat): Folded {
  const how = frame < first ? before : frame > last ? after : "hold";
  const span = last - first;
  if (how === "hold" || span <= 0) return { frame: Math.min(last, Math.max(first, frame)), rounds: 0 };
  const round = Math.floor((frame - first) / span);
  const within = frame - first - round * span;
  if (how === "to and fro" && round % 2 !== 0) return { frame: last - within, rounds: 0 };
  return { frame: first + within, rounds: how === "again from there" ? round : 0 };
}
