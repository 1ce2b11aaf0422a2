/** How frames are drawn that are taken away, and the arithmetic of it. */
import type { ExportId } from "@/core/formats/write/export-formats";
import { MOST_AT_ONCE } from "../stage/picture-part";

export type Blur = "moments" | "velocities";

export interface FrameLook {
  /** Pixels. */
  readonly width: number;
  readonly height: number;
  /** Looks that a frame is gathered of, over all its moments: fine edges, soft shadows, what is not in focus. */
  readonly looks: number;
  /** Of a single moment no more looks are gathered once its noise is below so much of the whole brightness; 0 gathers all. */
  readonly noise: number;
  /** Moments that are mixed in a frame; 1 takes the frame itself. */
  readonly samples: number;
  /** Where those are taken from: worked out at parts of the frame, or the frame moved along the velocities of what is in it. */
  readonly blur: Blur;
  /** How long the shutter is open, in degrees: 360 from one frame to the next. */
  readonly shutter: number;
  /** Leaves the ground out, so that pictures have an alpha channel. */
  readonly transparent: boolean;
}

/** Pixels along the longer side at most: of pictures of 8 bits 8K, of all else 4K, which is what a film or a page's memory holds. */
export const mostPixels = (format: ExportId): number => (format === "png" ? 7680 : MOST_AT_ONCE);

export const plainLook = ([width, height]: readonly [number, number]): FrameLook => ({
  width,
  height,
  looks: 1,
  noise: 0,
  samples: 1,
  blur: "moments",
  shutter: 180,
  transparent: false,
});

/** Another width with the same shape; both even, as films ask for, and no side above `most` pixels. */
export function sized(
  look: FrameLook,
  width: number,
  [w, h]: readonly [number, number],
  most: number,
): FrameLook {
  const wide = Math.min(w >= h ? most : (most * w) / h, Math.max(16, width));
  return { ...look, width: even(wide), height: even((wide * h) / w) };
}

const even = (n: number): number => Math.max(2, 2 * Math.round(n / 2));

/** What is drawn of a frame: a moment, which may be worked out at a part of it, and the seconds by which that is moved along velocities. */
export interface Moment {
  readonly frame: number;
  readonly drift: number;
}

/** Of which moment each look is: all of a moment follow each other, and each moment has one at least. */
export function momentOfLooks(moments: number, looks: number): number[] {
  const all = Math.max(moments, looks);
  return Array.from({ length: all }, (_, i) => Math.floor((i * moments) / all));
}

/** Whether the noise of a frame is asked for after so many looks: whenever they have doubled, from a number on that tells something. */
export const isNoiseAsked = ({ noise, samples }: FrameLook, looks: number): boolean =>
  noise > 0 && samples <= 1 && looks >= 8 && Math.log2(looks) % 1 === 0;

/** Moments that are mixed for a frame: evenly over the time that the shutter is open, with the frame in its middle. */
export function momentsOf(frame: number, { samples, blur, shutter }: FrameLook, fps: number): Moment[] {
  if (samples <= 1) return [{ frame, drift: 0 }];
  return Array.from({ length: samples }, (_, s) => {
    const part = ((s + 0.5) / samples - 0.5) * (shutter / 360);
    return blur === "velocities" ? { frame, drift: part / fps } : { frame: frame + part, drift: 0 };
  });
}
