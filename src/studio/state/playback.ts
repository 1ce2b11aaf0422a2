/** Which frame is shown while a piece plays, and how frames are told. */

/** Once to the end, over and over, or to and fro. */
export type Turns = "once" | "round" | "to and fro";

export interface PlayRange {
  readonly first: number;
  readonly last: number;
  readonly turns: Turns;
}

/**
 * The frame that is so many frames after another, or null when it has ended.
 * @param start a frame of the range
 * @param passed whole frames, 0 and more
 */
export function frameAfter({ first, last, turns }: PlayRange, start: number, passed: number): number | null {
  const count = last - first + 1;
  const offset = start - first + passed;
  if (turns === "once") return offset > count - 1 ? null : first + offset;
  if (turns === "round" || count === 1) return first + (offset % count);
  // Neither end is shown twice.
  const around = 2 * (count - 1);
  const at = offset % around;
  return first + (at < count ? at : around - at);
}

/** Frames that were shown in the last second, to be held against the rate. */
export class ShownRate {
  private readonly times: number[] = [];

  /** @param now milliseconds; gives how many a second, null until half a second is known */
  shown(now: number): number | null {
    this.times.push(now);
    while (now - this.times[0] > 1000) this.times.shift();
    const span = now - this.times[0];
    return span < 500 ? null : ((this.times.length - 1) * 1000) / span;
  }
}

export const TIME_UNITS = ["frames", "seconds", "time code"] as const;
export type TimeUnit = (typeof TIME_UNITS)[number];

/**
 * A frame as a number, as seconds, or as hours:minutes:seconds:frames counted by the next whole rate (SMPTE ST 12-1 without drop
 * frames). Parts of frames are told in frames only.
 */
export function frameTime(frame: number, fps: number, unit: TimeUnit): string {
  if (unit === "frames") return String(Number(frame.toFixed(2)));
  if (unit === "seconds") return `${(frame / fps).toFixed(2)}`;
  const rate = Math.max(1, Math.round(fps));
  const whole = Math.floor(Math.abs(frame) + 1e-6);
  const parts = [whole / (rate * 3600), (whole / (rate * 60)) % 60, (whole / rate) % 60, whole % rate];
  const digits = Math.max(2, String(rate - 1).length);
  const text = parts.map((part, i) => String(Math.floor(part)).padStart(i === 3 ? digits : 2, "0")).join(":");
  return frame < 0 ? `-${text}` : text;
}
