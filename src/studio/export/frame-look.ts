/** How frames are drawn that are taken away, and the arithmetic of it. */
import { decodeSrgb, encodeSrgb } from "@/core/maths/color";

export type Blur = "moments" | "velocities";

export interface FrameLook {
  /** Pixels. */
  readonly width: number;
  readonly height: number;
  /** Drawn so many times as wide and high, and then made smaller. */
  readonly fine: 1 | 2;
  /** Moments that are mixed in a frame; 1 takes the frame itself. */
  readonly samples: number;
  /** Where those are taken from: worked out at parts of the frame, or the frame moved along the velocities of what is in it. */
  readonly blur: Blur;
  /** How long the shutter is open, in degrees: 360 from one frame to the next. */
  readonly shutter: number;
  /** Leaves the ground out, so that pictures have an alpha channel. */
  readonly transparent: boolean;
}

/** Pixels along the longer side at most: 4K. */
export const MOST_PIXELS = 3840;

export const plainLook = ([width, height]: readonly [number, number]): FrameLook => ({
  width,
  height,
  fine: 1,
  samples: 1,
  blur: "moments",
  shutter: 180,
  transparent: false,
});

/** Another width with the same shape; both even, as films ask for, and no side above the most. */
export function sized(look: FrameLook, width: number, [w, h]: readonly [number, number]): FrameLook {
  const most = w >= h ? MOST_PIXELS : (MOST_PIXELS * w) / h;
  const wide = Math.min(most, Math.max(16, width));
  return { ...look, width: even(wide), height: even((wide * h) / w) };
}

const even = (n: number): number => Math.max(2, 2 * Math.round(n / 2));

/** What is drawn of a frame: a moment, which may be worked out at a part of it, and the seconds by which that is moved along velocities. */
export interface Moment {
  readonly frame: number;
  readonly drift: number;
}

/** Moments that are mixed for a frame: evenly over the time that the shutter is open, with the frame in its middle. */
export function momentsOf(frame: number, { samples, blur, shutter }: FrameLook, fps: number): Moment[] {
  if (samples <= 1) return [{ frame, drift: 0 }];
  return Array.from({ length: samples }, (_, s) => {
    const part = ((s + 0.5) / samples - 0.5) * (shutter / 360);
    return blur === "velocities" ? { frame, drift: part / fps } : { frame: frame + part, drift: 0 };
  });
}

/** Linear light of every byte (IEC 61966-2-1). */
const LINEAR = Float32Array.from({ length: 256 }, (_, i) => decodeSrgb(i / 255));
const STEPS = 8192;
/** The byte that is nearest to a linear light. */
const ENCODED = Uint8Array.from({ length: STEPS + 1 }, (_, i) => Math.round(encodeSrgb(i / STEPS) * 255));

/** The mean of pictures in linear light: what a shutter that is open for a while sees. */
export class LightSum {
  private readonly sums: Float32Array;
  private count = 0;

  /** @param pixels width × height */
  constructor(pixels: number) {
    this.sums = new Float32Array(pixels * 4);
  }

  /** @param rgba bytes, straight alpha */
  add(rgba: Uint8ClampedArray): void {
    const { sums } = this;
    for (let i = 0; i < sums.length; i += 4) {
      const alpha = rgba[i + 3] / 255;
      sums[i] += LINEAR[rgba[i]] * alpha;
      sums[i + 1] += LINEAR[rgba[i + 1]] * alpha;
      sums[i + 2] += LINEAR[rgba[i + 2]] * alpha;
      sums[i + 3] += alpha;
    }
    this.count++;
  }

  /** Writes the mean. */
  into(rgba: Uint8ClampedArray): void {
    const { sums, count } = this;
    for (let i = 0; i < sums.length; i += 4) {
      const alpha = sums[i + 3];
      for (let c = 0; c < 3; c++)
        rgba[i + c] = alpha > 0 ? ENCODED[Math.min(STEPS, Math.round((sums[i + c] / alpha) * STEPS))] : 0;
      rgba[i + 3] = Math.round((alpha / count) * 255);
    }
  }
}
