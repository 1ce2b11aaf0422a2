/** When births are due within an interval of time, and how many. */
import type { Birthplaces } from "./birthplaces";
import { ALWAYS, type Emitting } from "./emitting";

/** An interval of time in which particles are born. */
export interface Window {
  /** Seconds of the piece at its end. */
  readonly until: number;
  /** Its length in seconds of the piece. */
  readonly span: number;
  /** Times that length passes for what is born: less in slow motion, 0 where it stands still. */
  readonly scale: number;
  readonly fps: number;
  /** Nothing was before: what is due at its very end alone is born. */
  readonly first: boolean;
  /** The piece's seed. */
  readonly seed: number;
}

/** Births fall on whole numbers of what is due; sums of fractions may be short of them by this. */
export const SLACK = 1e-9;

/** Births that are due: how long before the window's end each, and of which element where that is settled, else −1. */
export interface DueBirths {
  readonly ago: Float64Array;
  readonly of: Int32Array;
}

/** The rate and the time between bursts that fit into a loop a whole number of times. */
export function inLoop(emitting: Emitting): Emitting {
  const { loop, rate, every } = emitting;
  if (loop === null) return emitting;
  return {
    ...emitting,
    rate: Math.round(rate * loop) / loop,
    every: loop / Math.max(1, Math.round(loop / every)),
  };
}

/** Births from one time that they come alike to the next. */
export function birthsInLoop(
  { loop, when, from, rate, every, count, each, frames }: Emitting,
  { domain }: Birthplaces,
): number {
  if (loop === null || from === "what dies" || when === "where a field rises") return Number.MAX_SAFE_INTEGER;
  const times = each ? domain.count : 1;
  const births =
    when === "at a rate"
      ? Math.round(rate * loop)
      : Math.round(count) *
        (when === "in bursts"
          ? Math.max(1, Math.round(loop / every))
          : when === "at frames"
            ? frames.length
            : 1);
  return Math.max(1, births * times);
}

const NONE: DueBirths = { ago: new Float64Array(0), of: new Int32Array(0) };

/** As many at one moment, of elements from the first on where each has its own. */
const atOnce = (count: number, ago: number, of: (i: number) => number): DueBirths => ({
  ago: new Float64Array(count).fill(ago),
  of: Int32Array.from({ length: count }, (_, i) => of(i)),
});

const joined = (lists: readonly DueBirths[]): DueBirths =>
  lists.length < 2
    ? (lists[0] ?? NONE)
    : {
        ago: Float64Array.from(lists.flatMap(({ ago }) => [...ago])),
        of: Int32Array.from(lists.flatMap(({ of }) => [...of])),
      };

/**
 * @param due how many have been due at its rate before, fractions included
 * @param rising elements whose weight has risen
 * @param room births at most: a rate may be far above what there is room for
 */
export function birthsDue(
  emitting: Emitting,
  { until, span, scale, fps, first }: Window,
  due: number,
  places: Birthplaces,
  rising: readonly number[],
  room: number,
): DueBirths & { readonly due: number } {
  const { when, each, rate, every, frames, between, loop } = emitting;
  const count = Math.max(0, Math.round(emitting.count));
  const fitting = (births: number) => Math.max(0, Math.min(births, room));
  if (emitting.from === "what dies")
    return { ...atOnce(fitting(places.count * count), 0, (i) => i % places.count), due };
  const elements = places.domain.count;
  const times = each ? elements : 1;
  const some = (ago: number): DueBirths =>
    atOnce(fitting(count * times), ago, (i) => (each && elements === places.count ? i % elements : -1));
  /** How long before the window's end a moment lies; null outside of it. */
  const ago = (moment: number): number | null => {
    const past = until - moment;
    if (first) return Math.abs(past) < SLACK ? 0 : null;
    return past > -SLACK && past < span - SLACK ? Math.max(0, past) : null;
  };
  /** The last time that a moment has come again, or itself. */
  const latest = (moment: number) =>
    loop === null ? moment : moment + Math.floor((until - moment) / loop + SLACK) * loop;
  const opened = between[0] > ALWAYS[0] ? between[0] / fps : 0;
  switch (when) {
    case "at a rate": {
      if (first) return { ...NONE, due };
      const next = due + Math.max(0, rate) * times * span * scale;
      const whole = fitting(Math.floor(next + SLACK) - Math.floor(due + SLACK));
      const passed = Float64Array.from({ length: whole }, (_, i) => {
        const number = Math.floor(due + SLACK) + i + 1;
        return Math.min(span, Math.max(0, ((next - number) / (next - due)) * span));
      });
      return { ago: passed, of: new Int32Array(whole).fill(-1), due: next };
    }
    case "in bursts": {
      const step = Math.max(1 / 1000, every);
      const last = Math.floor((until - opened) / step + SLACK);
      const bursts: DueBirths[] = [];
      const begins = loop === null && between[0] > ALWAYS[0];
      const earliest = Math.ceil((until - span - opened) / step - SLACK);
      const enough = Math.max(1, room / Math.max(1, count * times));
      for (let k = begins ? Math.max(0, earliest) : earliest; k <= last && bursts.length < enough; k++) {
        const past = ago(opened + k * step);
        if (past !== null) bursts.push(some(past));
      }
      return { ...joined(bursts), due };
    }
    case "at frames": {
      const moments = frames.flatMap((frame) => ago(latest(frame / fps)) ?? []);
      return { ...joined(moments.map(some)), due };
    }
    case "once": {
      if (loop !== null) {
        const past = ago(latest(opened));
        return { ...(past === null ? NONE : some(past)), due };
      }
      // A beginning that lies before the first frame has come with that.
      const past = first && until >= opened - SLACK ? 0 : ago(opened);
      if (past === null) return { ...NONE, due };
      return { ...(due > 0 ? NONE : some(past)), due: 1 };
    }
    default:
      return { ...atOnce(fitting(rising.length * count), 0, (i) => rising[i % rising.length]), due };
  }
}

/** Elements whose weight has gone above 0.5 since the step before. */
export const risen = (now: Float32Array | undefined, before: Float32Array | undefined): number[] =>
  now && before?.length === now.length
    ? Array.from(now.keys()).filter((i) => now[i] > 0.5 && before[i] <= 0.5)
    : [];
